/** Tags as rows of the sheet, which of them are shown and in which order. Pure. */
import { nameIn, type Body } from '@wide-ledger/core';
import type { Standing } from '../configuration/drafting.ts';
import { cellsOf, type Cells, type References } from './cells.ts';
import type { SheetColumn } from './columns.ts';

export interface SheetRow {
  readonly id: number;
  readonly cells: Cells;
  /** What is in force, where the draft says otherwise; null: new in the draft, or not changed. */
  readonly inForce: Cells | null;
  readonly life: Standing['life'];
  /** All of its cells in small letters: what is searched. */
  readonly text: string;
}

export function rowOf(
  { id, body, inForce, life }: Standing,
  columns: readonly SheetColumn[],
  references: References,
): SheetRow {
  const cells = cellsOf(body ?? ({} satisfies Body), columns, references);
  return {
    id,
    cells,
    inForce: life === 'changed in draft' && inForce ? cellsOf(inForce, columns, references) : null,
    life,
    text: Object.values(cells).filter(Boolean).join('\n').toLowerCase(),
  };
}

export interface Arrangement {
  /** Keys of the columns, in their order. */
  readonly columns: readonly string[];
  readonly words: string;
  readonly sort: { readonly key: string; readonly descending: boolean } | null;
}

/** Numbers by their size, everything else by letters and the numbers in them. */
const order = new Intl.Collator('en', { numeric: true });

/** The rows that hold every word in any of their cells, in the order that is asked for. */
export function arranged(rows: readonly SheetRow[], { words, sort }: Arrangement): SheetRow[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const found = rows.filter(({ text }) => wanted.every((word) => text.includes(word)));
  const key = sort?.key ?? 'name';
  const turn = sort?.descending ? -1 : 1;
  return found.sort(
    (a, b) => turn * order.compare(a.cells[key] ?? '', b.cells[key] ?? '') || order.compare(nameOf(a), nameOf(b)),
  );
}

export const nameOf = ({ cells }: SheetRow): string => cells.name ?? '';
export const isThere = ({ body, inForce }: Standing): boolean => body !== null && nameIn(body ?? inForce) !== '';
