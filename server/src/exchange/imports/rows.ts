/** The rows of a CSV, XLSX, Parquet or JSON file, in batches as they are read. Column names come apart. */
import type { FileCell } from '@wide-ledger/core';
import { open } from 'node:fs/promises';
import { csvRows } from './csvRows.ts';
import { MOST_COLUMNS, batchRowsFor } from './limits.ts';
import { jsonRows } from './jsonRows.ts';
import type { NamedRows } from './namedRows.ts';
import { parquetRows } from './parquetRows.ts';
import { xlsxRows } from './xlsxRows.ts';

export type FileKind = 'csv' | 'xlsx' | 'parquet' | 'json';

export interface FileRows extends Omit<NamedRows, 'rows'> {
  readonly names: readonly string[];
  /** How many rows a batch has. */
  readonly batchRows: number;
  readonly batches: AsyncGenerator<FileCell[][]>;
}

/** By what a file begins with: 'PAR1', a ZIP archive, a brace, or else text. */
export async function kindOf(path: string): Promise<FileKind> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(64), 0, 64, 0);
    const begin = buffer.toString('latin1', 0, bytesRead);
    if (begin.startsWith('PAR1')) return 'parquet';
    if (begin.startsWith('PK')) return 'xlsx';
    return /^(\u00ef\u00bb\u00bf)?\s*\{\s*"/.test(begin) ? 'json' : 'csv';
  } finally {
    await file.close();
  }
}

/**
 * @param batchRows how many rows a batch has; null: as the file's width asks for.
 * @throws RangeError with a sentence when the file holds nothing that is a table.
 */
export async function openRows(
  path: string,
  kind: FileKind,
  sheet: string | null,
  batchRows: number | null = null,
): Promise<FileRows> {
  const { rows, ...whole } = await openNamed(path, kind, sheet);
  const first = await rows.next();
  if (first.done) throw new RangeError('The file has no rows.');
  const names = first.value.map((cell) => String(cell ?? '').trim());
  if (names.length > MOST_COLUMNS)
    throw new RangeError(`The file has ${names.length} columns, and at most ${MOST_COLUMNS} are taken`);
  const size = batchRows ?? batchRowsFor(names.length);
  return { names, batchRows: size, batches: inBatches(rows, size), ...whole };
}

async function openNamed(path: string, kind: FileKind, sheet: string | null): Promise<NamedRows> {
  switch (kind) {
    case 'csv':
      return { rows: await csvRows(path), sentence: '', sheets: [] };
    case 'json':
      return { rows: await jsonRows(path), sentence: '', sheets: [] };
    case 'parquet':
      return { rows: parquetRows(path), sentence: '', sheets: [] };
    case 'xlsx':
      return xlsxRows(path, sheet);
  }
}

async function* inBatches(rows: NamedRows['rows'], size: number): AsyncGenerator<FileCell[][]> {
  let batch: FileCell[][] = [];
  for await (const row of rows) {
    batch.push(row);
    if (batch.length < size) continue;
    yield batch;
    batch = [];
  }
  if (batch.length > 0) yield batch;
}
