/** The rows of a CSV, XLSX or Parquet file, in batches as they are read. The first batch begins with the column names. */
import type { FileCell } from '@wide-ledger/core';
import { parse } from 'csv-parse';
import exceljs from 'exceljs';
import { asyncBufferFromFile, parquetMetadataAsync, parquetReadObjects } from 'hyparquet';
import { compressors } from 'hyparquet-compressors';
import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';

export type FileKind = 'csv' | 'xlsx' | 'parquet';

export interface FileRows {
  readonly names: readonly string[];
  readonly batches: AsyncGenerator<FileCell[][]>;
}

/** Rows in one batch: a few milliseconds of work, so that the server stays quick. */
export const BATCH_ROWS = 2000;
const PARQUET_ROWS = 20_000;
const SNIFFED_BYTES = 64 * 1024;

/** By what a file begins with: 'PAR1', a ZIP archive, or else text. */
export async function kindOf(path: string): Promise<FileKind> {
  const file = await open(path);
  try {
    const { buffer } = await file.read(Buffer.alloc(4), 0, 4, 0);
    if (buffer.toString('latin1') === 'PAR1') return 'parquet';
    return buffer.toString('latin1', 0, 2) === 'PK' ? 'xlsx' : 'csv';
  } finally {
    await file.close();
  }
}

export async function openRows(path: string, kind: FileKind): Promise<FileRows> {
  const rows =
    kind === 'csv' ? csvRows(path, await delimiterOf(path)) : kind === 'xlsx' ? xlsxRows(path) : parquetRows(path);
  const first = await rows.next();
  if (first.done) throw new RangeError('The file has no rows.');
  return { names: first.value.map((cell) => String(cell ?? '').trim()), batches: inBatches(rows) };
}

async function* inBatches(rows: AsyncGenerator<FileCell[]>): AsyncGenerator<FileCell[][]> {
  let batch: FileCell[][] = [];
  for await (const row of rows) {
    batch.push(row);
    if (batch.length < BATCH_ROWS) continue;
    yield batch;
    batch = [];
  }
  if (batch.length > 0) yield batch;
}

/** The mark that the first line has most of: comma, semicolon or tabulator. */
async function delimiterOf(path: string): Promise<string> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(SNIFFED_BYTES), 0, SNIFFED_BYTES, 0);
    const [line = ''] = buffer.toString('utf8', 0, bytesRead).split(/\r?\n/);
    const count = (mark: string): number => line.split(mark).length;
    return [',', ';', '\t'].reduce((best, mark) => (count(mark) > count(best) ? mark : best));
  } finally {
    await file.close();
  }
}

async function* csvRows(path: string, delimiter: string): AsyncGenerator<FileCell[]> {
  const parser = createReadStream(path).pipe(
    parse({ delimiter, bom: true, relax_column_count: true, skip_empty_lines: true }),
  );
  for await (const row of parser) yield (row as string[]).map((cell) => (cell === '' ? null : cell));
}

/** The first sheet. Date cells are times of day in UTC, as the format has no zones. */
async function* xlsxRows(path: string): AsyncGenerator<FileCell[]> {
  const book = new exceljs.stream.xlsx.WorkbookReader(path, {
    worksheets: 'emit',
    sharedStrings: 'cache',
    styles: 'cache',
  });
  for await (const sheet of book) {
    for await (const row of sheet) {
      // Counted from 1; cells left out are holes.
      const cells = Array.from((row.values as unknown[]).slice(1), plainCell);
      yield cells;
    }
    return;
  }
}

function plainCell(cell: unknown): FileCell {
  if (cell === undefined || cell === null || cell === '') return null;
  if (cell instanceof Date || typeof cell === 'number' || typeof cell === 'string' || typeof cell === 'boolean')
    return cell;
  const { result, text } = cell as { result?: unknown; text?: unknown };
  if (result !== undefined) return plainCell(result);
  return typeof text === 'string' ? text : null;
}

async function* parquetRows(path: string): AsyncGenerator<FileCell[]> {
  const file = await asyncBufferFromFile(path);
  const metadata = await parquetMetadataAsync(file);
  const names = metadata.schema.filter(({ num_children }) => !num_children).map(({ name }) => name);
  yield names;
  const count = Number(metadata.num_rows);
  for (let rowStart = 0; rowStart < count; rowStart += PARQUET_ROWS) {
    const rowEnd = Math.min(count, rowStart + PARQUET_ROWS);
    const rows = await parquetReadObjects({ file, metadata, compressors, rowStart, rowEnd });
    for (const row of rows) yield names.map((name) => (row[name] ?? null) as FileCell);
  }
}
