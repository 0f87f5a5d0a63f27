import type { FileCell } from '@wide-ledger/core';
import exceljs from 'exceljs';
import { checkUnpacked } from './limits.ts';
import type { NamedRows } from './namedRows.ts';

/** A column whose head says so holds instants; date cells of every other one are a clock's, as the format has no zones. */
const IN_UTC = /\(UTC\)\s*$/;

/** A sheet by its name and its head. */
interface Sheet {
  readonly name: string;
  readonly head: readonly string[];
}

/**
 * Rows of a workbook: of the sheet that is named, or of its only one, or of all of them where they have the same head;
 * then the name of the sheet stands in a column of its own, since it may be the tag. Else of the first one.
 */
export async function xlsxRows(path: string, wanted: string | null): Promise<NamedRows> {
  await checkUnpacked(path);
  const sheets = await sheetsOf(path);
  if (sheets.length === 0) throw new RangeError('The workbook has no sheet with rows');
  const one = wanted === null ? sheets[0]! : sheets.find(({ name }) => name === wanted);
  if (!one)
    throw new RangeError(`The workbook has no sheet "${wanted}". It has ${sheets.map(({ name }) => name).join(', ')}`);
  const names = sheets.map(({ name }) => name);
  const alike = sheets.every(({ head }) => head.join('\0') === one.head.join('\0'));
  if (wanted === null && sheets.length > 1 && alike) {
    return {
      rows: sheetRows(path, null),
      sentence: `All ${sheets.length} sheets of the workbook, which have the same columns.`,
      sheets: names,
    };
  }
  const others = names.filter((name) => name !== one.name);
  const sentence =
    others.length === 0 ? '' : `The sheet "${one.name}". Not read: ${others.map((name) => `"${name}"`).join(', ')}.`;
  return { rows: sheetRows(path, one.name), sentence, sheets: names };
}

type Reader = AsyncIterable<AsyncIterable<{ readonly values: unknown }> & { readonly name?: string }>;

const openBook = (path: string): Reader =>
  new exceljs.stream.xlsx.WorkbookReader(path, {
    worksheets: 'emit',
    sharedStrings: 'cache',
    styles: 'cache',
  });

async function sheetsOf(path: string): Promise<Sheet[]> {
  const sheets: Sheet[] = [];
  for await (const sheet of openBook(path)) {
    let head: string[] | null = null;
    // Every row is passed by: the next sheet comes after the last of them.
    for await (const row of sheet) head ??= cellsOf(row.values).map((cell) => String(cell ?? '').trim());
    if (head) sheets.push({ name: sheet.name ?? `Sheet ${sheets.length + 1}`, head });
  }
  return sheets;
}

/** @param wanted null: all sheets, with their names in a column behind the others. */
async function* sheetRows(path: string, wanted: string | null): AsyncGenerator<FileCell[]> {
  let named = false;
  for await (const sheet of openBook(path)) {
    let head: FileCell[] | null = null;
    for await (const row of sheet) {
      if (wanted !== null && sheet.name !== wanted) continue;
      const cells = cellsOf(row.values);
      if (head === null) {
        head = cells;
        if (!named) yield wanted === null ? [...cells, 'sheet'] : cells;
        named = true;
        continue;
      }
      const read = head.map((name, i) => plain(cells[i] ?? null, IN_UTC.test(String(name))));
      yield wanted === null ? [...read, sheet.name ?? null] : read;
    }
  }
}

type Cell = FileCell | Date;

/** Counted from 1; cells left out are holes. */
const cellsOf = (values: unknown): FileCell[] => Array.from((values as unknown[]).slice(1), cellOf) as FileCell[];

function cellOf(cell: unknown): Cell {
  if (cell === undefined || cell === null || cell === '') return null;
  if (cell instanceof Date || typeof cell === 'number' || typeof cell === 'string' || typeof cell === 'boolean')
    return cell;
  const { result, text, richText } = cell as { result?: unknown; text?: unknown; richText?: { text: string }[] };
  if (result !== undefined) return cellOf(result);
  if (richText) return richText.map((part) => part.text).join('');
  return typeof text === 'string' ? text : null;
}

/** A date cell as the text of what it shows, to the millisecond. */
function plain(cell: Cell, utc: boolean): FileCell {
  if (!(cell instanceof Date)) return cell;
  const shown = new Date(Math.round(cell.getTime())).toISOString();
  return utc ? shown : shown.replace('Z', '');
}
