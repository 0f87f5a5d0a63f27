/** Cells of a workbook as its reader hands them over: plain values, formulas by their stored value, dates as what they show. */
import type { FileCell } from './cells.ts';

/** A cell before it is known whether its dates are instants. */
export type WorkbookCell = FileCell | Date;

/** A column whose head says so holds instants; date cells of every other one are a clock's, as the format has no zones. */
const IN_UTC = /\(UTC\)\s*$/;

/** @param values of a row, counted from 1; cells left out are holes. */
export const workbookCells = (values: unknown): WorkbookCell[] => Array.from((values as unknown[]).slice(1), cellOf);

/** A row's cells under the heads of their columns: a date is the text of what it shows, to the millisecond. */
export const cellsUnder = (head: readonly string[], cells: readonly WorkbookCell[]): FileCell[] =>
  head.map((name, i) => plain(cells[i] ?? null, IN_UTC.test(name)));

function cellOf(cell: unknown): WorkbookCell {
  if (cell === undefined || cell === null || cell === '') return null;
  if (cell instanceof Date || typeof cell === 'number' || typeof cell === 'string' || typeof cell === 'boolean')
    return cell;
  const { result, text, richText } = cell as { result?: unknown; text?: unknown; richText?: { text: string }[] };
  if (result !== undefined) return cellOf(result);
  if (richText) return richText.map((part) => part.text).join('');
  return typeof text === 'string' ? text : null;
}

function plain(cell: WorkbookCell, utc: boolean): FileCell {
  if (!(cell instanceof Date)) return cell;
  const shown = new Date(Math.round(cell.getTime())).toISOString();
  return utc ? shown : shown.replace('Z', '');
}
