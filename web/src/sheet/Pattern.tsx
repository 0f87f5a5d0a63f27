/** Many alike rows described once: a pattern for each column, and a roster over which they are expanded. */
import { ROSTER_WAYS, assignmentsOf, expandPattern, type RosterWay, type Variable } from '@wide-ledger/core';
import { useState } from 'react';
import { Button } from '../controls/Button.tsx';
import { showNumber } from '../controls/values.ts';
import { titleIn, type SheetColumn } from './columns.ts';
import type { TextRow } from './incoming.ts';

export interface PatternCell {
  readonly key: string;
  readonly pattern: string;
}

/** Patterns of columns, and over what they are expanded. */
export interface PatternText {
  readonly cells: readonly PatternCell[];
  readonly variables: readonly Variable[];
  readonly way: RosterWay;
}

export const FIRST_PATTERN: PatternText = {
  cells: [
    { key: 'name', pattern: '' },
    { key: 'type', pattern: 'real' },
    { key: 'unit', pattern: '' },
  ],
  variables: [{ name: 'n', list: '' }],
  way: 'all combinations',
};

/** What nobody filled in says nothing of tags that are there already. */
export const saidIn = ({ cells }: PatternText): readonly PatternCell[] =>
  cells.filter(({ key, pattern }) => key === 'name' || pattern.trim() !== '');

export const isBegun = ({ variables }: PatternText): boolean => variables.some(({ list }) => list.trim() !== '');

const BOX = 'figure h-7 min-w-0 rounded-paper border border-edge bg-paper px-1.5';
/** The rows with their head; a sentence where the pattern or the roster is none. */
function expanded(pattern: PatternText, columns: readonly SheetColumn[]): readonly TextRow[] | string {
  try {
    const said = saidIn(pattern);
    const head = said.map(({ key }) => titleIn(columns, key));
    const all = assignmentsOf(pattern.variables, pattern.way);
    return [head, ...all.map((one) => said.map((cell) => expandPattern(cell.pattern, one)))];
  } catch (error) {
    return (error as Error).message;
  }
}

interface Props {
  readonly columns: readonly SheetColumn[];
  readonly onRows: (rows: readonly TextRow[]) => void;
}

/** Rows out of a pattern, once. */
export function Pattern({ columns, onRows }: Props) {
  const [pattern, setPattern] = useState(FIRST_PATTERN);
  const rows = isBegun(pattern) ? expanded(pattern, columns) : [];
  return (
    <fieldset className="mt-3 min-w-0 border-t border-rule pt-2">
      <legend className="pr-2 font-semibold">Or a pattern and a roster</legend>
      <PatternForm columns={columns} pattern={pattern} onPattern={setPattern} />
      {typeof rows === 'string' ? (
        <p role="status" className="text-madder">
          {rows}
        </p>
      ) : (
        <Button disabled={rows.length === 0} onClick={() => onRows(rows)}>
          {rows.length === 0 ? 'Expand it' : `Expand it to ${showNumber(rows.length - 1)} rows`}
        </Button>
      )}
    </fieldset>
  );
}

interface FormProps {
  readonly columns: readonly SheetColumn[];
  readonly pattern: PatternText;
  readonly onPattern: (pattern: PatternText) => void;
}

/** Patterns and lists, to be typed. */
export function PatternForm({ columns, pattern: { cells, variables, way }, onPattern }: FormProps) {
  const change = (to: Partial<PatternText>): void => onPattern({ cells, variables, way, ...to });
  const setCells = (to: readonly PatternCell[]): void => change({ cells: to });
  const setVariables = (to: readonly Variable[]): void => change({ variables: to });
  const setCell = (at: number, cell: Partial<PatternCell>): void =>
    setCells(cells.map((one, i) => (i === at ? { ...one, ...cell } : one)));
  const setVariable = (at: number, variable: Partial<Variable>): void =>
    setVariables(variables.map((one, i) => (i === at ? { ...one, ...variable } : one)));
  const another = columns.find(({ key }) => !cells.some((cell) => cell.key === key));
  return (
    <>
      <p className="mb-1 text-ink-2">
        {'Places: {n}, {n:00} with digits, {n*10+400} reckoned. Lists: 1-12, 001-012, A, B, C.'}
      </p>
      {cells.map(({ key, pattern }, i) => (
        <div key={i} className="flex gap-1.5 py-0.5">
          <select
            aria-label={`Column ${i + 1} of the pattern`}
            className="h-7 w-32 rounded-paper border border-edge bg-paper px-1"
            value={key}
            onChange={(event) => setCell(i, { key: event.target.value })}
          >
            {columns.map((column) => (
              <option key={column.key} value={column.key}>
                {column.title}
              </option>
            ))}
          </select>
          <input
            aria-label={`Pattern of ${titleIn(columns, key)}`}
            title={pattern}
            placeholder={key === 'name' ? 'KB-PT-{n:00}' : ''}
            className={`${BOX} flex-1`}
            value={pattern}
            onChange={(event) => setCell(i, { pattern: event.target.value })}
          />
          <button
            aria-label={`Take ${key} out of the pattern`}
            className="px-1 text-ink-2 hover:text-ink disabled:opacity-40"
            disabled={key === 'name'}
            onClick={() => setCells(cells.filter((_, at) => at !== i))}
          >
            ×
          </button>
        </div>
      ))}
      <Button
        className="my-1"
        disabled={!another}
        onClick={() => another && setCells([...cells, { key: another.key, pattern: '' }])}
      >
        Another column
      </Button>
      {variables.map(({ name, list }, i) => (
        <div key={i} className="flex gap-1.5 py-0.5">
          <input
            aria-label={`Variable ${i + 1}`}
            className={`${BOX} w-16`}
            value={name}
            onChange={(event) => setVariable(i, { name: event.target.value })}
          />
          <input
            aria-label={`List of ${name}`}
            placeholder="1-12"
            className={`${BOX} flex-1`}
            value={list}
            onChange={(event) => setVariable(i, { list: event.target.value })}
          />
          <button
            aria-label={`Take ${name} out of the roster`}
            className="px-1 text-ink-2 hover:text-ink disabled:opacity-40"
            disabled={variables.length === 1}
            onClick={() => setVariables(variables.filter((_, at) => at !== i))}
          >
            ×
          </button>
        </div>
      ))}
      <div className="flex items-center gap-2 py-1">
        <Button onClick={() => setVariables([...variables, { name: `n${variables.length + 1}`, list: '' }])}>
          Another variable
        </Button>
        {variables.length > 1 && (
          <select
            aria-label="How the lists go together"
            className="h-7 rounded-paper border border-edge bg-paper px-1"
            value={way}
            onChange={(event) => change({ way: event.target.value as RosterWay })}
          >
            {ROSTER_WAYS.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        )}
      </div>
    </>
  );
}
