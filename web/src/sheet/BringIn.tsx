/** Rows from a spreadsheet or a file: what each column is, what each row would do, and what is wrong with it, before anything is taken. */
import { useMutation } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useEdit, type Standing } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { Leaf } from '../frame/Leaf.tsx';
import type { References } from './cells.ts';
import type { SheetColumn } from './columns.ts';
import { columnsOfHead, isHead, type Incoming, type TextRow } from './incoming.ts';
import { Pattern } from './Pattern.tsx';
import { Troubles } from './Troubles.tsx';
import { useIncoming } from './useIncoming.ts';
import { rowsOfText, rowsOfWorkbook } from './table.ts';

interface Props {
  /** With their head, where they have one; none yet: nothing was pasted or opened. */
  readonly rows: readonly TextRow[];
  readonly columns: readonly SheetColumn[];
  readonly standings: readonly Standing[];
  readonly references: References;
  readonly onRows: (rows: readonly TextRow[]) => void;
  readonly onClose: () => void;
}

const NO_HEAD: TextRow = [];
/** Rows with trouble that are listed. */
const MOST_SHOWN = 200;

/** What was pasted, or a file. @throws Error with a sentence */
const read = async (given: File | string): Promise<TextRow[]> =>
  typeof given === 'string' ? rowsOfText(given) : readFile(given);

const readFile = async (file: File): Promise<TextRow[]> =>
  file.name.toLowerCase().endsWith('.xlsx') ? rowsOfWorkbook(await file.arrayBuffer()) : rowsOfText(await file.text());

export function BringIn({ rows, columns, standings, references, onRows, onClose }: Props) {
  const open = useMutation({ mutationFn: read, onSuccess: onRows });
  const edit = useEdit();
  const first = rows[0] ?? NO_HEAD;
  const headed = isHead(first, columns);
  const [chosen, setChosen] = useState<ReadonlyMap<number, string>>(new Map());
  const taken = useMemo(() => {
    const guessed = headed ? columnsOfHead(first, columns) : first.map((_, i) => columns[i] ?? null);
    return guessed.map((column, i) => {
      const key = chosen.get(i);
      return key === undefined ? column : (columns.find((one) => one.key === key) ?? null);
    });
  }, [first, headed, columns, chosen]);
  const body = useMemo(() => (headed ? rows.slice(1) : rows), [rows, headed]);
  const incoming = useIncoming(body, taken, standings, references);
  return (
    <Leaf title="Bring in rows" below="from a spreadsheet, from a file, or by a pattern" onClose={onClose}>
      {(open.error ?? edit.error) && <Failure error={(open.error ?? edit.error)!} />}
      <label className="mb-2 block">
        Rows <span className="text-ink-2">pasted here, or onto the sheet</span>
        <textarea
          rows={3}
          spellCheck={false}
          className="figure mt-1 block w-full rounded-paper border border-edge bg-paper px-2 py-1"
          value=""
          placeholder={rows.length > 0 ? `${showNumber(rows.length)} rows are here` : ''}
          onChange={(event) => open.mutate(event.target.value)}
        />
      </label>
      <label className="mb-2 block">
        Or a file <span className="text-ink-2">CSV or XLSX</span>
        <input
          type="file"
          accept=".csv,.txt,.tsv,.xlsx"
          className="mt-1 block w-full file:mr-2 file:h-[30px] file:rounded-paper file:border file:border-edge file:bg-raised file:px-2.5"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            if (file) open.mutate(file);
          }}
        />
      </label>
      {rows.length === 0 && <Pattern columns={columns} onRows={onRows} />}
      {rows.length > 0 && (
        <>
          <Button className="mt-1 self-start" onClick={() => onRows([])}>
            Other rows
          </Button>
          <h3 className="mt-3 font-semibold">Columns</h3>
          <p className="mb-1 text-ink-2">
            {headed ? 'By the heads of the first row.' : 'The first row is no head: say what each column is.'}
          </p>
          {taken.map((column, i) => (
            <label key={i} className="flex items-center gap-2 py-0.5">
              <span className="figure w-36 truncate text-ink-2" title={first[i]}>
                {first[i] === '' ? `column ${i + 1}` : first[i]}
              </span>
              <select
                className="h-7 min-w-0 flex-1 rounded-paper border border-edge bg-paper px-1"
                value={column?.key ?? ''}
                onChange={(event) => setChosen(new Map(chosen).set(i, event.target.value))}
              >
                <option value="">left out</option>
                {columns.map(({ key, title }) => (
                  <option key={key} value={key}>
                    {title}
                  </option>
                ))}
              </select>
            </label>
          ))}
          {incoming === null && <p role="status">Looking at {showNumber(body.length)} rows …</p>}
          {incoming && (
            <WhatHappens
              incoming={incoming}
              columns={columns}
              isTaking={edit.isPending}
              onTake={() => edit.mutate(incoming.changes, { onSuccess: onClose })}
            />
          )}
        </>
      )}
    </Leaf>
  );
}

interface WhatHappensProps {
  readonly incoming: Incoming;
  readonly columns: readonly SheetColumn[];
  readonly isTaking: boolean;
  readonly onTake: () => void;
}

/** How many rows are new, change something, or cannot be taken, and why. */
function WhatHappens({ incoming: { rows, changes }, columns, isTaking, onTake }: WhatHappensProps) {
  const count = (does: Incoming['rows'][number]['does']): number => rows.filter((row) => row.does === does).length;
  const refused = rows.filter(({ does }) => does === 'refused');
  return (
    <div data-testid="incoming">
      <p role="status" className="mt-3">
        {showNumber(count('new'))} new, {showNumber(count('changed'))} changed, {showNumber(count('same'))} as they are
        {refused.length > 0 && <span className="text-madder">, {showNumber(refused.length)} cannot be taken</span>}.
      </p>
      {refused.length > 0 && (
        <ul aria-label="Rows that cannot be taken" className="mt-1 border-t border-rule">
          {refused.slice(0, MOST_SHOWN).map(({ row, name, troubles }) => (
            <li key={row} className="border-b border-rule py-1">
              <span className="figure">
                row {row} {name}
              </span>
              <Troubles troubles={troubles} columns={columns} />
            </li>
          ))}
        </ul>
      )}
      <Button main className="mt-3" disabled={changes.length === 0 || isTaking} onClick={onTake}>
        {isTaking ? 'Taking them …' : `Take ${showNumber(changes.length)} into the draft`}
      </Button>
    </div>
  );
}
