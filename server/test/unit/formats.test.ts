/** Tables on their way out: JSON that any reader of JSON reads back, CSV that a library reads back. */
import fc from 'fast-check';
import { formatInstant } from '@wide-ledger/core';
import { parse } from 'csv-parse/sync';
import { writeCsv } from '../../src/archive/reading/formats/csv.ts';
import { writeJson } from '../../src/archive/reading/formats/json.ts';
import type { Answer, Cell, Chunk, Column, Row } from '../../src/archive/reading/formats/table.ts';

const COLUMNS: readonly Column[] = [
  { name: 'time', kind: 'time' },
  { name: 'Flow "A", quality', kind: 'value' },
  { name: 'status', kind: 'number' },
  { name: 'words', kind: 'text' },
];

const cells: fc.Arbitrary<Cell> = fc.oneof(
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.integer(),
  fc.boolean(),
  fc.constant(null),
  fc.string({ unit: 'grapheme' }),
  fc.constantFrom(-0, '', 'a\nb', 'a\rb', ' a ', '"'),
);
const rows: fc.Arbitrary<Row[]> = fc.array(
  fc.tuple(
    fc.integer({ min: -2_000_000_000_000_000, max: 8_000_000_000_000_000 }),
    cells,
    fc.nat(0xffffffff),
    fc.string({ unit: 'grapheme' }),
  ),
  { maxLength: 30 },
);

async function* inBatches(all: readonly Row[], size: number): AsyncGenerator<readonly Row[]> {
  for (let at = 0; at < all.length; at += size) {
    yield [];
    yield all.slice(at, at + size);
    await Promise.resolve();
  }
}

const answerOf = (tables: readonly (readonly Row[])[], size: number): Answer => ({
  tables: tables.map((all, i) => ({ name: `table ${i}`, columns: COLUMNS, batches: inBatches(all, size) })),
  list: 'rows',
  head: { tag: 'Ümläut "quoted"', interval: 'PT1H' },
  foot: () => ({ next: '42' }),
});

async function written(chunks: AsyncGenerator<Chunk>): Promise<string> {
  let text = '';
  for await (const chunk of chunks) text += typeof chunk === 'string' ? chunk : Buffer.from(chunk).toString('utf8');
  return text;
}

test('JSON is read back as the same objects, −0 included, however the rows come in batches', async () => {
  await fc.assert(
    fc.asyncProperty(rows, rows, fc.integer({ min: 1, max: 7 }), async (one, other, size) => {
      const text = await written(writeJson(answerOf([one, other], size)));
      const objects = [...one, ...other].map((row) =>
        Object.fromEntries(COLUMNS.map(({ name }, i) => [name, i === 0 ? formatInstant(row[0] as number) : row[i]])),
      );
      expect(JSON.parse(text)).toEqual({ tag: 'Ümläut "quoted"', interval: 'PT1H', rows: objects, next: '42' });
    }),
  );
});

test('CSV comes back cell by cell from a reader of RFC 4180', async () => {
  await fc.assert(
    fc.asyncProperty(rows, fc.integer({ min: 1, max: 7 }), async (all, size) => {
      const text = await written(writeCsv(answerOf([all], size)));
      expect(text.endsWith('\r\n')).toBe(true);
      const [head, ...read] = parse(text, { record_delimiter: '\r\n', relax_column_count: true });
      expect(head).toEqual(COLUMNS.map(({ name }) => name));
      expect(read).toEqual(
        all.map(([time, ...rest]) => [
          formatInstant(time as number),
          ...rest.map((cell) => (cell === null ? '' : Object.is(cell, -0) ? '-0' : String(cell))),
        ]),
      );
    }),
  );
});

test('CSV quotes a lone line feed and a lone carriage return, and tells an empty text from no value', async () => {
  const row: Row = [0, 'a\nb', 192, 'c\rd'];
  const text = await written(writeCsv(answerOf([[row, [0, '', 192, 'x'], [0, null, 192, 'x']]], 3)));
  expect(text.split('\r\n').slice(1, 4)).toEqual([
    '1970-01-01T00:00:00.000Z,"a\nb",192,"c\rd"',
    '1970-01-01T00:00:00.000Z,"",192,x',
    '1970-01-01T00:00:00.000Z,,192,x',
  ]);
});
