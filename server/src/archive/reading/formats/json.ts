import { formatInstant } from '@wide-ledger/core';
import type { Answer, Cell, Chunk, Column, Row } from './table.ts';

const fieldsOf = (value: object): string => JSON.stringify(value).slice(1, -1);

/** Words that come again in every row, such as qualities, are quoted once. */
const MOST_QUOTED = 1000;

/**
 * Writes a row as an object. What JSON.stringify would give for one made of the row, without making it: a year of hours
 * for twenty tags is 350,000 cells.
 */
function rowWriter(columns: readonly Column[]): (row: Row) => string {
  const names = columns.map(({ name }, i) => `${i === 0 ? '{' : ','}${JSON.stringify(name)}:`);
  const quoted = new Map<Cell, string>();
  const quote = (cell: Cell): string => {
    const known = quoted.get(cell);
    if (known !== undefined) return known;
    const text = JSON.stringify(cell);
    if (quoted.size < MOST_QUOTED) quoted.set(cell, text);
    return text;
  };
  return (row) => {
    let text = '';
    for (let i = 0; i < names.length; i++) {
      const cell = row[i]!;
      text += names[i]!;
      if (typeof cell !== 'number') text += columns[i]!.kind === 'json' ? String(cell) : quote(cell);
      else if (Object.is(cell, -0)) text += '-0';
      else if (columns[i]!.kind === 'time') text += `"${formatInstant(cell)}"`;
      else text += Number.isFinite(cell) ? String(cell) : 'null';
    }
    return `${text}}`;
  };
}

/** One JSON object: the head's fields, the rows of all tables in one list, the foot's fields. */
export async function* writeJson({ tables, list, head, foot }: Answer): AsyncGenerator<Chunk> {
  const before = fieldsOf(head);
  yield `{${before}${before ? ',' : ''}${JSON.stringify(list)}:[`;
  let first = true;
  for (const { columns, batches } of tables) {
    const write = rowWriter(columns);
    for await (const rows of batches) {
      if (rows.length === 0) continue;
      const text = rows.map(write).join(',');
      yield first ? text : `,${text}`;
      first = false;
    }
  }
  const after = fieldsOf(foot());
  yield `]${after ? `,${after}` : ''}}`;
}
