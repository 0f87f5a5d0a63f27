import { exactJsonText, type FileCell } from '@wide-ledger/core';
import { readFile, stat } from 'node:fs/promises';
import { Turns, readJson } from '../../ground/index.ts';

/** A JSON file is read as a whole. */
const LARGEST_BYTES = 64 * 1024 * 1024;

/** As many as fit into it, written as shortly as can be. */
const MOST_ROWS = 10_000_000;

/** Rows of a JSON file as the archive writes it: an object whose one list holds an object a row. */
export async function jsonRows(path: string): Promise<AsyncGenerator<FileCell[]>> {
  if ((await stat(path)).size > LARGEST_BYTES) {
    throw new RangeError('A JSON file of more than 64 MB is not read. Take CSV or Parquet');
  }
  const whole = (await readJson(await readFile(path), { parts: MOST_ROWS, exact: true })) as Record<string, unknown>;
  const { tag } = whole;
  const list = Object.values(whole).find((value) => Array.isArray(value) && isRow(value[0])) as object[] | undefined;
  if (!list) throw new RangeError('The file holds no list of rows');
  return rowsOf(list, typeof tag === 'string' ? tag : null);
}

const isRow = (value: unknown): boolean => typeof value === 'object' && value !== null && !Array.isArray(value);

/** So many rows take a few milliseconds. */
const ROWS_A_TURN = 5000;

/** @param tag whose rows these are, where the file says it once. */
async function* rowsOf(list: readonly object[], tag: string | null): AsyncGenerator<FileCell[]> {
  const found = new Set<string>();
  const turns = new Turns(ROWS_A_TURN);
  for (const row of list) {
    for (const name of Object.keys(row)) found.add(name);
    await turns.after(1);
  }
  const names = [...found];
  const named = tag !== null && !found.has('tag');
  yield named ? ['tag', ...names] : names;
  for (const row of list) {
    const cells = names.map((name) => cellOf((row as Record<string, unknown>)[name]));
    yield named ? [tag, ...cells] : cells;
  }
}

const cellOf = (value: unknown): FileCell =>
  typeof value === 'string' || typeof value === 'number' || typeof value === 'bigint' || typeof value === 'boolean'
    ? value
    : value === null || value === undefined
      ? null
      : exactJsonText(value);
