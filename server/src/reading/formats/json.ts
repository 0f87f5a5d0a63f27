import { formatInstant } from '@wide-ledger/core';
import type { Answer, Chunk, Column, Row } from './table.ts';

const fieldsOf = (value: object): string => JSON.stringify(value).slice(1, -1);

function rowObject(columns: readonly Column[], row: Row): object {
  return Object.fromEntries(
    columns.map(({ name, kind }, i) => [name, kind === 'time' ? formatInstant(row[i] as number) : row[i]]),
  );
}

/** One JSON object: the head's fields, the rows of all tables in one list, the foot's fields. */
export async function* writeJson({ tables, list, head, foot }: Answer): AsyncGenerator<Chunk> {
  const before = fieldsOf(head);
  yield `{${before}${before ? ',' : ''}${JSON.stringify(list)}:[`;
  let first = true;
  for (const { columns, batches } of tables) {
    for await (const rows of batches) {
      if (rows.length === 0) continue;
      const text = rows.map((row) => JSON.stringify(rowObject(columns, row))).join(',');
      yield first ? text : `,${text}`;
      first = false;
    }
  }
  const after = fieldsOf(foot());
  yield `]${after ? `,${after}` : ''}}`;
}
