/** A look at the rows of a record: as they are, what each of its columns is taken for, and what becomes of them. */
import { nodeOf, type NewSource, type RowsAnswer, type Tag } from '@wide-ledger/contract';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../../controls/Button.tsx';
import { Failure } from '../../controls/States.tsx';
import { post } from '../../server/calls.ts';
import { useTags } from '../../server/queries.ts';
import { columnUses, type ColumnUse } from './columnUses.ts';

export type RecordSource = Extract<NewSource, { kind: 'sql' | 'files' }>;

/** Whether a source is a record that somebody else writes. */
export const isRecord = (source: NewSource): source is RecordSource => source.kind === 'sql' || source.kind === 'files';

interface Props {
  /** As it is in the draft, else in force. */
  readonly source: RecordSource;
  /** Its number. */
  readonly id: number;
}

export function TryRows({ source, id }: Props) {
  const tags = useTags('', undefined, id).data?.pages.flatMap((page) => page.tags) ?? [];
  const ask = useMutation({ mutationFn: () => post<RowsAnswer>('/sources/rows', { source }) });
  const isSql = source.kind === 'sql';
  return (
    <section aria-label="Look at the rows" className="mt-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h3 className="flex-1 font-semibold">{isSql ? 'Try the query' : 'Look at the rows'}</h3>
        <Button disabled={ask.isPending} onClick={() => ask.mutate()}>
          {ask.isPending ? 'Reading …' : isSql ? 'Try it' : 'Look'}
        </Button>
      </div>
      {ask.error && <Failure error={ask.error} />}
      {!ask.data && !ask.error && (
        <p className="text-ink-2">
          {isSql ? 'Its newest rows, and what reading on takes.' : 'The newest rows of the file that was written last.'}
        </p>
      )}
      {ask.data && <Looked looked={ask.data} source={source} tags={tags} />}
    </section>
  );
}

/** The tags that take a series, by its name. */
function takersOf(tags: readonly Tag[]): ReadonlyMap<string, readonly string[]> {
  const takers = new Map<string, string[]>();
  for (const { name, collection } of tags) {
    const series = collection && nodeOf(collection.address);
    if (series) takers.set(series, [...(takers.get(series) ?? []), name]);
  }
  return takers;
}

interface LookedProps {
  readonly looked: RowsAnswer;
  readonly source: RecordSource;
  readonly tags: readonly Tag[];
}

function Looked({ looked: { columns, rows, read, troubles, series, said }, source, tags }: LookedProps) {
  const takers = takersOf(tags);
  const uses = columnUses(columns, source.connection, takers);
  const untaken = series.filter((one) => !takers.has(one));
  return (
    <div data-testid="looked">
      <p>{said}</p>
      <p role="status">
        {read} {read === 1 ? 'row gives' : 'rows give'} values; {series.length - untaken.length} of {series.length}{' '}
        series {series.length - untaken.length === 1 ? 'is' : 'are'} taken.
      </p>
      {troubles.map(({ sentence, times }) => (
        <p key={sentence} className="text-madder">
          {sentence} {times > 1 && `(${times} times)`}
        </p>
      ))}
      {columns.length > 0 && <Row key={said} uses={uses} rows={rows} />}
    </div>
  );
}

/** A column a line, with what one of the rows holds: a leaf is too narrow for a table of many columns. */
function Row({ uses, rows }: { readonly uses: readonly ColumnUse[]; readonly rows: RowsAnswer['rows'] }) {
  const [back, setBack] = useState(0);
  const row = rows.at(-1 - back);
  return (
    <>
      {rows.length > 0 && (
        <div className="mt-1.5 flex items-center gap-2">
          <span className="flex-1">{back === 0 ? 'The newest row' : `${back} before the newest`}</span>
          <Button disabled={back + 1 >= rows.length} onClick={() => setBack(back + 1)}>
            Earlier
          </Button>
          <Button disabled={back === 0} onClick={() => setBack(back - 1)}>
            Later
          </Button>
        </div>
      )}
      <ul className="mt-1 border-t border-rule">
        {uses.map(({ name, type, use, isUsed }, i) => (
          <li key={`${name} ${i}`} className="border-b border-rule py-1">
            <span className="flex gap-2">
              <span className="figure min-w-0 flex-1 truncate" title={name}>
                {name}
              </span>
              <span className={`max-w-36 truncate ${isUsed ? 'text-verdigris' : 'text-ink-2'}`} title={use}>
                {use}
              </span>
            </span>
            <span className="figure wrap-anywhere">
              {row ? (row[i] ?? <span className="text-ink-2">none</span>) : ''}
            </span>
            {type !== '' && <span className="ml-2 text-ink-2">{type}</span>}
          </li>
        ))}
      </ul>
    </>
  );
}
