/** A sheet of a workbook as rows. It is read whole: a workbook is written anew each time. */
import type { FilesConnection } from '@wide-ledger/contract';
import { cellsUnder, workbookCells, type FileCell, type WorkbookCell } from '@wide-ledger/core';
import type { Workbook } from 'exceljs';
import type { Found } from './folder.ts';
import { columnNames } from './lines.ts';
import { Unreadable } from './reading.ts';

export const isWorkbook = ({ name }: Pick<Found, 'name'>): boolean => /\.xlsx$/i.test(name);

/** Bytes of a workbook; packed it is a tenth of what it takes in memory. */
const LARGEST = 50_000_000;
/** One whose names are looked at is held in memory with all of its sheets. */
const LARGEST_NAMED = 5_000_000;

export interface Sheet {
  readonly names: readonly string[];
  readonly rows: readonly (readonly FileCell[])[];
}

type Reader = AsyncIterable<AsyncIterable<{ readonly values: unknown }> & { readonly name?: string }>;

/** What is read of a workbook: its named cells, or a sheet. @throws Unreadable */
export async function rowsOfWorkbook(file: Found, connection: FilesConnection): Promise<Sheet> {
  const most = connection.named ? LARGEST_NAMED : LARGEST;
  if (file.size > most) throw new Unreadable(`${file.name} has more than ${most} bytes: save it as CSV.`);
  try {
    return connection.named ? await namedCells(file) : await sheetOf(file, connection);
  } catch (error) {
    if (error instanceof Unreadable) throw error;
    throw new Unreadable(`${file.name} is no workbook that can be read: ${(error as Error).message}.`);
  }
}

/** The sheet that is named, or the first. @throws Unreadable where it is not there */
async function sheetOf(
  file: Found,
  { sheet: wanted, linesBefore, header }: Pick<FilesConnection, 'sheet' | 'linesBefore' | 'header'>,
): Promise<Sheet> {
  // Loaded when there is a workbook: it takes a third of a second.
  const { default: exceljs } = await import('exceljs');
  const book = new exceljs.stream.xlsx.WorkbookReader(file.path, {
    worksheets: 'emit',
    sharedStrings: 'cache',
    styles: 'cache',
  }) as unknown as Reader;
  let found: Sheet | null = null;
  for await (const sheet of book) {
    const cells = [];
    // Every row is passed by: the next sheet comes after the last of them.
    for await (const row of sheet) cells.push(workbookCells(row.values));
    if (found !== null || (wanted !== '' && sheet.name !== wanted)) continue;
    const [first = [], ...below] = cells.slice(linesBefore);
    const names = columnNames(cellsUnder(first.map(String), first), header);
    found = { names, rows: (header ? below : [first, ...below]).map((row) => cellsUnder(names, row)) };
  }
  if (found) return found;
  throw new Unreadable(`${file.name} has no sheet ${wanted}.`);
}

/** Where a name lies: a cell, or some in a row or a column. */
const RANGE = /^(?:'((?:[^']|'')+)'|([^'!]+))!\$?([A-Z]{1,3})\$?(\d+)(?::\$?([A-Z]{1,3})\$?(\d+))?$/;
const MOST_ROWS = 100_000;

/** The cells that have names, each name a column; what has one cell holds for every row. @throws Unreadable */
async function namedCells(file: Found): Promise<Sheet> {
  const { default: exceljs } = await import('exceljs');
  const book = new exceljs.Workbook();
  await book.xlsx.readFile(file.path);
  const columns = book.definedNames.model.flatMap(({ name, ranges }) => {
    const cells = ranges.length === 1 ? cellsIn(book, ranges[0]!) : [];
    return cells.length > 0 ? [{ name, cells }] : [];
  });
  if (columns.length === 0) throw new Unreadable(`${file.name} has no cells with names.`);
  const names = columns.map(({ name }) => name);
  const most = Math.max(...columns.map(({ cells }) => cells.length));
  const rows = Array.from({ length: most }, (_, i) =>
    cellsUnder(
      names,
      columns.map(({ cells }) => (cells.length === 1 ? cells[0]! : (cells[i] ?? null))),
    ),
  );
  return { names, rows };
}

function cellsIn(book: Workbook, range: string): WorkbookCell[] {
  const [, quoted, plain, firstColumn = '', firstRow = '', lastColumn = firstColumn, lastRow = firstRow] =
    RANGE.exec(range) ?? [];
  const sheet = book.getWorksheet(quoted?.replaceAll("''", "'") ?? plain ?? '');
  const [top, bottom] = [Number(firstRow), Number(lastRow)];
  const [left, right] = [columnNumber(firstColumn), columnNumber(lastColumn)];
  // A block of cells is no column, nor a row.
  if (!sheet || (top !== bottom && left !== right)) return [];
  const length = Math.min(MOST_ROWS, Math.max(bottom - top, right - left) + 1);
  const down = bottom > top;
  return workbookCells([
    null,
    ...Array.from({ length }, (_, i) => sheet.getCell(down ? top + i : top, down ? left : left + i).value),
  ]);
}

const columnNumber = (letters: string): number =>
  [...letters].reduce((number, letter) => number * 26 + letter.charCodeAt(0) - 64, 0);
