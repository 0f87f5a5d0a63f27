import type { FileCell } from '@wide-ledger/core';
import { parse } from 'csv-parse';
import { Readable, pipeline } from 'node:stream';
import { encodingOf, textOf } from './encoding.ts';

const MARKS = [',', ';', '\t', '|'];

/** Rows of a CSV file, whatever its letters are written in and its fields are parted by. */
export async function csvRows(path: string): Promise<AsyncGenerator<FileCell[]>> {
  const encoding = await encodingOf(path);
  const delimiter = await delimiterOf(textOf(path, encoding));
  const options = { delimiter, bom: true, relax_column_count: true, skip_empty_lines: true, relax_quotes: true };
  const parser = parse(options);
  // Whoever stops reading rows closes the file: a pipe alone would leave it open.
  pipeline(Readable.from(textOf(path, encoding)), parser, () => undefined);
  return rowsOf(parser);
}

async function* rowsOf(parser: AsyncIterable<unknown>): AsyncGenerator<FileCell[]> {
  for await (const row of parser) yield (row as string[]).map((cell) => (cell === '' ? null : cell));
}

/** The mark that the first line has most of, outside quotes. */
async function delimiterOf(text: AsyncGenerator<string>): Promise<string> {
  let begin = '';
  for await (const part of text) {
    begin += part;
    if (/[\r\n]/.test(begin.trimStart()) || begin.length > 64 * 1024) break;
  }
  const [line = ''] = begin.trimStart().split(/\r\n|\r|\n/);
  const bare = line.replace(/"[^"]*"/g, '');
  const count = (mark: string): number => bare.split(mark).length;
  return MARKS.reduce((best, mark) => (count(mark) > count(best) ? mark : best));
}
