/** Databases that do not show which transactions are open: said once, nothing is remembered without end, and reading goes on. */
import { sqlConnection } from '@wide-ledger/contract';
import { Status, type FileCell } from '@wide-ledger/core';
import { SourceAway } from '../../src/index.ts';
import type { Rows } from '../../src/kinds/sql/database.ts';
import { LateRows } from '../../src/kinds/sql/lateRows.ts';

const connection = sqlConnection.parse({ progress: 'number' });
const NOTHING: Rows = { columns: [], rows: [] };
const away = (code: string): SourceAway => new SourceAway('It failed.', code, Status.Bad);
const row = (number: number): FileCell[] => [number, 5, String(number), 'now'];

test.each([
  ['a standby', () => Promise.resolve(NOTHING)],
  ['one without the functions', () => Promise.reject(away('SQL_42883'))],
])('%s: said once; a restart goes on from what was read', async (_name, ask) => {
  let asked = 0;
  const told: string[] = [];
  const late = new LateRows(connection, () => (asked++, ask()), null);
  for (let number = 1; number <= 3; number++) {
    late.note(String(number), [row(number)]);
    expect(await late.find('bigint', false, (sentence) => told.push(sentence))).toEqual([]);
    expect([late.place, late.settled]).toEqual([String(number), String(number)]);
  }
  expect(asked).toBe(1);
  expect(told).toEqual([expect.stringContaining('does not show which transactions are open')]);
});

test('a database that only failed to answer is asked again', async () => {
  let fails = true;
  const late = new LateRows(
    connection,
    (text) => {
      if (fails) return Promise.reject(away('SQL_57014'));
      return Promise.resolve({ columns: [], rows: [text.includes('pg_current_snapshot') ? ['9', '9', ''] : [1n]] });
    },
    null,
  );
  late.note('1', [row(1)]);
  await expect(late.find('bigint', false, () => undefined)).rejects.toThrow(SourceAway);
  fails = false;
  expect(await late.find('bigint', false, () => undefined)).toEqual([]);
  expect(late.settled).toBe('1');
});

test('a transaction that stays open is waited for, and given up when too much would have to be remembered', async () => {
  const told: string[] = [];
  let held = 0;
  const late = new LateRows(
    connection,
    (text) =>
      Promise.resolve({ columns: [], rows: [text.includes('pg_current_snapshot') ? ['3', '9', '3'] : [BigInt(held)]] }),
    null,
  );
  for (let from = 1; from <= 100_001; from += 25_000) {
    const rows = Array.from({ length: 25_000 }, (_, i) => row(from + i));
    held += rows.length;
    late.note(String(from + 24_999), rows);
    await late.find('bigint', false, (sentence) => told.push(sentence));
    if (from < 100_000) expect(late.settled).toBeNull();
  }
  expect(late.settled).toBe('125000');
  expect(told).toEqual([expect.stringContaining('at or below number 125000 are missed')]);
});
