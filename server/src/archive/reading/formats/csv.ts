import { formatInstant } from '@wide-ledger/core';
import { stringify, type Options } from 'csv-stringify/sync';
import type { Answer, Cell, Chunk, Table } from './table.ts';

/** A line feed or carriage return by itself has to be quoted too; an empty text is told from no value by its quotes. */
const OPTIONS: Options = {
  record_delimiter: 'windows',
  quoted_match: /[\r\n]/,
  cast: {
    boolean: String,
    number: (value) => (Object.is(value, -0) ? '-0' : String(value)),
    string: (value) => (value === '' ? { value, quoted: true, quoted_empty: true } : value),
  },
};

/** RFC 4180: a header of names, CRLF, times as RFC 3339 in UTC. Tables of one answer follow each other under one header. */
export async function* writeCsv({ tables }: Answer): AsyncGenerator<Chunk> {
  yield stringify([tables[0]!.columns.map(({ name }) => name)], OPTIONS);
  for (const table of tables) {
    for await (const rows of table.batches) if (rows.length > 0) yield stringify(textRows(table, rows), OPTIONS);
  }
}

function textRows({ columns }: Table, rows: readonly (readonly Cell[])[]): Cell[][] {
  const times = columns.flatMap(({ kind }, i) => (kind === 'time' ? [i] : []));
  return rows.map((row) => {
    const text = [...row];
    for (const i of times) if (text[i] !== null) text[i] = formatInstant(row[i] as number);
    return text;
  });
}
