/** Rows of texts as files and from files: CSV (RFC 4180), what a spreadsheet copies, and workbooks. */
import { parse } from 'csv-parse/browser/esm/sync';
import { stringify } from 'csv-stringify/browser/esm/sync';
import { workbookCells, type WorkbookCell } from '@wide-ledger/core';
import type { TextRow } from './incoming.ts';

/** Cells that are parted by tabs, semicolons or commas, whichever the first line has most of. @throws Error with a sentence */
export function rowsOfText(text: string): TextRow[] {
  const [line = ''] = text.split(/\r?\n/, 1);
  const bare = line.replace(/"[^"]*"/g, '');
  const count = (mark: string): number => bare.split(mark).length;
  const delimiter = ['\t', ';', ','].reduce((best, mark) => (count(mark) > count(best) ? mark : best));
  // What a spreadsheet copies is seldom quoted, and may be long: nothing has to be parsed then.
  if (!text.includes('"')) return linesOf(text).map((one) => one.split(delimiter));
  try {
    return parse(text, { delimiter, bom: true, relax_column_count: true, relax_quotes: true });
  } catch (error) {
    throw new Error(`The rows cannot be told apart: ${(error as Error).message}.`, { cause: error });
  }
}

/** The same; null where they cannot be told apart. */
export function tableIn(text: string): TextRow[] | null {
  try {
    return rowsOfText(text);
  } catch {
    return null;
  }
}

const linesOf = (text: string): string[] => {
  const lines = text.replace(/^\ufeff/, '').split(/\r\n|\n|\r/);
  return lines.at(-1) === '' ? lines.slice(0, -1) : lines;
};

export const textOfRows = (rows: readonly TextRow[]): string =>
  stringify(rows as string[][], { record_delimiter: '\r\n' });

/** A cell of a workbook as a text. */
function textOf(cell: WorkbookCell): string {
  if (cell === null) return '';
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
  return cell instanceof Date ? cell.toISOString() : String(cell);
}

/** The first sheet of a workbook. @throws Error with a sentence */
export async function rowsOfWorkbook(bytes: ArrayBuffer): Promise<TextRow[]> {
  // It is large, and seldom wanted.
  const { default: exceljs } = await import('exceljs');
  const book = new exceljs.Workbook();
  await book.xlsx.load(bytes).catch((error: Error) => {
    throw new Error(`This is no workbook that can be read: ${error.message}.`);
  });
  const rows: TextRow[] = [];
  book.worksheets[0]?.eachRow({ includeEmpty: true }, (row) => {
    rows.push(workbookCells(row.values).map(textOf));
  });
  return rows;
}

/** @param numeric columns whose texts are numbers, that a spreadsheet may reckon with them */
export async function workbookOfRows(
  head: TextRow,
  rows: readonly TextRow[],
  numeric: readonly boolean[],
): Promise<Blob> {
  const { default: exceljs } = await import('exceljs');
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Tags', { views: [{ state: 'frozen', ySplit: 1, xSplit: 1 }] });
  sheet.addRow(head).font = { bold: true };
  for (const row of rows)
    sheet.addRow(row.map((text, i) => (numeric[i] && text !== '' ? Number(text) : text === '' ? null : text)));
  return new Blob([await book.xlsx.writeBuffer()], {
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  });
}

/** Hands a file over to whoever asked for it. */
export function handOver(name: string, blob: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}
