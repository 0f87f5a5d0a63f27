/** What each column of a file was taken for, to be put right by a person. */
import type { ImportedFile } from '@wide-ledger/contract';
import { COLUMN_ROLES, type ColumnRole } from '@wide-ledger/core';
import { useTags } from '../server/queries.ts';
import {
  DECIMAL_READINGS,
  DOUBLED_READINGS,
  QUALITY_READINGS,
  TIME_READINGS,
  timeKey,
  type Reading,
} from './readings.ts';

type Column = ImportedFile['columns'][number];

interface Props {
  readonly columns: readonly Column[];
  readonly onChange: (index: number, change: Partial<Column>) => void;
}

const FIELD = 'h-[26px] rounded-paper border border-rule bg-raised px-1';

const ROLE_WORDS: Record<ColumnRole, string> = {
  time: 'time',
  timeOfDay: 'time of day',
  tag: 'tag',
  value: 'value',
  quality: 'quality',
  ignored: 'ignored',
};

export function ColumnTable({ columns, onChange }: Props) {
  const { data } = useTags('');
  const tags = data?.pages.flatMap((page) => page.tags) ?? [];
  return (
    <>
      <table className="w-full" data-testid="columns">
        <thead className="text-left text-ink-2">
          <tr className="h-9 border-b border-ink/70">
            <th className="pr-4 pl-1.5 font-normal">Column</th>
            <th className="pr-4 font-normal">First values</th>
            <th className="pr-4 font-normal">Understood as</th>
            <th className="pr-4 font-normal">Holds</th>
            <th className="font-normal">Read how</th>
          </tr>
        </thead>
        <tbody>
          {columns.map((column, i) => (
            <tr key={i} className="h-9 border-b border-rule">
              <td className="figure py-1 pr-4 pl-1.5">{column.name}</td>
              <td className="figure max-w-44 truncate pr-4 text-ink-2">{column.examples.join(' · ')}</td>
              <td className={`min-w-44 py-1 pr-4 ${column.doubtful ? 'text-ochre' : ''}`}>{column.sentence}</td>
              <td className="pr-4">
                <select
                  aria-label={`What ${column.name} holds`}
                  className={FIELD}
                  value={column.role}
                  onChange={(event) => onChange(i, { role: event.target.value as ColumnRole })}
                >
                  {COLUMN_ROLES.map((role) => (
                    <option key={role} value={role}>
                      {ROLE_WORDS[role]}
                    </option>
                  ))}
                </select>
              </td>
              <td className="py-1">
                <span className="flex flex-wrap gap-x-2 gap-y-1">
                  <ColumnReading column={column} onChange={(change) => onChange(i, change)} />
                </span>
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

/** How the cells of one column are read: what there is to choose depends on what it holds. */
function ColumnReading({
  column,
  onChange,
}: {
  readonly column: Column;
  readonly onChange: (change: Partial<Column>) => void;
}) {
  const { name, role, time, decimal = 'point', quality = 'status', tag } = column;
  if (role === 'time') {
    return (
      <>
        <Choice
          label={`How ${name} is read`}
          readings={TIME_READINGS}
          value={timeKey(time)}
          onChoose={(way) => onChange({ time: way })}
        />
        {(time?.kind === 'clock' || time?.kind === 'serial') && (
          <Choice
            label={`The doubled hour of ${name}`}
            readings={DOUBLED_READINGS}
            value={time.doubled ?? 'rows'}
            onChoose={(doubled) => onChange({ time: { ...time, doubled } })}
          />
        )}
      </>
    );
  }
  if (role !== 'value' && role !== 'quality') return null;
  return (
    <>
      <input
        aria-label={`Tag of ${name}`}
        list="file-tags"
        placeholder="the row’s tag"
        className={`${FIELD} figure w-36`}
        value={tag ?? ''}
        onChange={(event) => onChange({ tag: event.target.value || null })}
      />
      {role === 'value' ? (
        <Choice
          label={`Decimal mark of ${name}`}
          readings={DECIMAL_READINGS}
          value={decimal}
          onChoose={(way) => onChange({ decimal: way })}
        />
      ) : (
        <Choice
          label={`Qualities of ${name}`}
          readings={QUALITY_READINGS}
          value={quality}
          onChoose={(way) => onChange({ quality: way })}
        />
      )}
    </>
  );
}

function Choice<Way>({
  label,
  readings,
  value,
  onChoose,
}: {
  readonly label: string;
  readonly readings: readonly Reading<Way>[];
  readonly value: string;
  readonly onChoose: (way: Way) => void;
}) {
  return (
    <select
      aria-label={label}
      className={FIELD}
      value={value}
      onChange={(event) => onChoose(readings.find(([key]) => key === event.target.value)![2])}
    >
      {readings.map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </select>
  );
}
