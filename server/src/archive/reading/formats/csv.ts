import { formatInstant } from '@wide-ledger/core';
import { stringify } from 'csv-stringify/sync';
import type { Answer, Chunk, Table } from './table.ts';

/** RFC 4180: a header of names, CRLF, times as RFC 3339 in UTC. Tables of one answer follow each other under one header. */
export async function* writeCsv({ tables }: Answer): AsyncGenerator<Chunk> {
  const options = { record_delimiter: 'windows', cast: { boolean: String } } as const;
  yield stringify([tables[0]!.columns.map(({ name }) => name)], options);
  for (const table of tables) {
    for await (const rows of table.batches) if (rows.length > 0) yield stringify(textRows(table, rows), options);
  }
}

function textRows({ columns }: Table, rows: readonly (readonly unknown[])[]): unknown[][] {
  const times = columns.flatMap(({ kind }, i) => (kind === 'time' ? [i] : []));
  return rows.map((row) => {
    const text = [...row];
    for (const i of times) text[i] = formatInstant(row[i] as number);
    return text;
  });
}
