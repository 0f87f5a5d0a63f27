/** What each column of a file was taken for, to be put right by a person. */
import type { ImportedFile } from '@wide-ledger/contract';
import { COLUMN_ROLES, type ColumnRole, type TimeFormat } from '@wide-ledger/core';
import { useTags } from '../server/queries.ts';

type Column = ImportedFile['columns'][number];

interface Props {
  readonly columns: readonly Column[];
  readonly onChange: (index: number, change: Partial<Column>) => void;
}

const FIELD = 'h-[26px] rounded-paper border border-rule bg-raised px-1';

const TIMES: readonly (readonly [string, string, TimeFormat])[] = [
  ['instant', 'with its offset', { kind: 'instant' }],
  ['ymd', 'year, month, day', { kind: 'clock', order: 'ymd' }],
  ['dmy', 'day, month, year', { kind: 'clock', order: 'dmy' }],
  ['mdy', 'month, day, year', { kind: 'clock', order: 'mdy' }],
  ['1000000', 'seconds since 1970', { kind: 'epoch', micros: 1_000_000 }],
  ['1000', 'milliseconds since 1970', { kind: 'epoch', micros: 1000 }],
  ['1', 'microseconds since 1970', { kind: 'epoch', micros: 1 }],
];

const keyOf = (time: TimeFormat | undefined): string =>
  time === undefined
    ? 'instant'
    : time.kind === 'clock'
      ? time.order
      : time.kind === 'epoch'
        ? String(time.micros)
        : 'instant';

export function ColumnTable({ columns, onChange }: Props) {
  const { data } = useTags('');
  const tags = data?.pages.flatMap((page) => page.tags) ?? [];
  return (
    <>
      <table className="w-full" data-testid="columns">
        <thead className="text-left text-ink-2">
          <tr className="h-9 border-b border-ink/70">
            <th className="pl-1.5 font-normal">Column</th>
            <th className="font-normal">First values</th>
            <th className="font-normal">Understood as</th>
            <th className="font-normal">Holds</th>
            <th className="font-normal">Read how</th>
          </tr>
        </thead>
        <tbody>
          {columns.map((column, i) => (
            <tr key={i} className="h-9 border-b border-rule">
              <td className="figure pl-1.5">{column.name}</td>
              <td className="figure max-w-64 truncate text-ink-2">{column.examples.join(' · ')}</td>
              <td className={`max-w-80 ${column.doubtful ? 'text-ochre' : ''}`}>{column.sentence}</td>
              <td>
                <select
                  aria-label={`What ${column.name} holds`}
                  className={FIELD}
                  value={column.role}
                  onChange={(event) => onChange(i, { role: event.target.value as ColumnRole })}
                >
                  {COLUMN_ROLES.map((role) => (
                    <option key={role}>{role}</option>
                  ))}
                </select>
              </td>
              <td className="whitespace-nowrap">
                {column.role === 'time' && (
                  <select
                    aria-label={`How ${column.name} is read`}
                    className={FIELD}
                    value={keyOf(column.time)}
                    onChange={(event) => onChange(i, { time: TIMES.find(([key]) => key === event.target.value)![2] })}
                  >
                    {TIMES.map(([key, words]) => (
                      <option key={key} value={key}>
                        {words}
                      </option>
                    ))}
                  </select>
                )}
                {(column.role === 'value' || column.role === 'quality') && (
                  <input
                    aria-label={`Tag of ${column.name}`}
                    list="file-tags"
                    placeholder="the row’s tag"
                    className={`${FIELD} figure w-36`}
                    value={column.tag ?? ''}
                    onChange={(event) => onChange(i, { tag: event.target.value || null })}
                  />
                )}
                {column.role === 'value' && (
                  <select
                    aria-label={`Decimal mark of ${column.name}`}
                    className={`${FIELD} ml-2`}
                    value={column.decimal ?? 'point'}
                    onChange={(event) => onChange(i, { decimal: event.target.value as 'point' | 'comma' })}
                  >
                    <option value="point">1.5</option>
                    <option value="comma">1,5</option>
                  </select>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <datalist id="file-tags">
        {tags.map((tag) => (
          <option key={tag.id} value={tag.name} />
        ))}
      </datalist>
    </>
  );
}
