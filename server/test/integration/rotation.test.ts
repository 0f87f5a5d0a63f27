/** Old days of the journal go, and nothing that was in them. */
import { SECOND } from '@wide-ledger/core';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { pino } from 'pino';
import { ROOT } from '../../../launch/ground.mjs';
import { Seal } from '@wide-ledger/vault';
import { openDatabase } from '../../src/ground/database/connect.ts';
import { Journal } from '../../src/archive/journal/journal.ts';
import { dropDay, oldestDay } from '../../src/archive/journal/rotation.ts';
import { Posting } from '../../src/archive/ledger/posting.ts';
import { Stores } from '../../src/archive/stores/stores.ts';
import { createDatabase } from './testDatabase.ts';
import { frameOf } from './testSite.ts';

const silent = pino({ level: 'silent' });
const own = await createDatabase();
const database = await openDatabase(own.url, join(ROOT, 'server'), silent);
const { pool } = database;
const seal = new Seal(randomBytes(32));
const stores = new Stores(pool, seal, silent);
const posting = new Posting(pool, { id: 1, pool: () => Promise.resolve(pool) }, 0, silent);
afterAll(async () => {
  await pool.end();
  await own.drop();
});

const START = Date.UTC(2026, 0, 1) * 1000;
/** Seven days before the 20th: what lies before it is old. */
const OLD = '20260313';
const days = async (): Promise<string[]> =>
  (
    await pool.query<{ day: string }>(
      "SELECT right(relid::text, 8) AS day FROM pg_partition_tree('journal_entry') WHERE isleaf",
    )
  ).rows
    .map(({ day }) => day)
    .sort();

/** Drops what may go, as the job does. */
async function rotate(before: string): Promise<string[]> {
  const gone: string[] = [];
  for (let day; (day = await oldestDay(stores, before, Infinity)) !== null;) {
    await dropDay(stores, day);
    gone.push(day);
  }
  return gone;
}

/** An entry as it was written on a day in the past. */
async function writtenOn(day: string, tag: number, sequence: number): Promise<void> {
  const journal = new Journal(database, () => new Date(`${day}T12:00:00Z`));
  const frame = frameOf(tag, [[START + sequence * SECOND, sequence]]);
  const entry = { writer: 'past', sequence, origin: 'live', frame, watches: [], outages: [], refused: [] } as const;
  await journal.append(entry);
  await pool.query('UPDATE journal_entry SET day = $1 WHERE writer = $2 AND sequence = $3', [day, 'past', sequence]);
}

test('a day goes when it is old and posted; values and sequence numbers stay', async () => {
  const { rows } = await pool.query<{ id: number }>(
    `INSERT INTO tag (name, type, unit, description, place, stepped, in_force_since) VALUES ('T', 'real', '', '', '', false, now()) RETURNING id`,
  );
  const tag = rows[0]!.id;
  await new Journal(database).prepareDays();
  const today = (await days()).filter((day) => day > '20260320');
  await writtenOn('2026-03-01', tag, 1);
  await writtenOn('2026-03-05', tag, 2);
  await writtenOn('2026-03-18', tag, 3);
  const tables = ['20260301', '20260302', '20260305', '20260306', '20260318', '20260319'];
  expect((await days()).filter((day) => !today.includes(day))).toEqual(tables);

  // Nothing is posted: nothing goes, however old it is.
  expect(await rotate(OLD)).toEqual([]);
  await posting.postAll();
  await writtenOn('2026-03-05', tag, 4);
  // What came later for the 5th waits to be posted: that day and those after it stay.
  expect(await rotate(OLD)).toEqual(['20260301', '20260302']);
  await posting.postAll();
  expect(await rotate(OLD)).toEqual(['20260305', '20260306']);
  expect(await rotate(OLD)).toEqual([]);
  expect((await days()).filter((day) => !today.includes(day))).toEqual(['20260318', '20260319']);

  const kept = await pool.query<{ value: number }>(
    "SELECT value FROM history.sample('T', '2026-01-01Z', '2026-01-02Z') ORDER BY time",
  );
  expect(kept.rows.map(({ value }) => value)).toEqual([1, 2, 3, 4]);
  // Delivering again what lies in a dropped day still adds nothing.
  expect(
    await new Journal(database).append({
      writer: 'past',
      sequence: 2,
      origin: 'live',
      frame: frameOf(tag, [[START, 9]]),
      watches: [],
      outages: [],
      refused: [],
    }),
  ).toBeNull();
});

test('while a store does not answer, every day stays', async () => {
  await writtenOn('2026-03-18', 1, 9);
  await posting.postAll();
  await pool.query("INSERT INTO store (name, sealed_url) VALUES ('Away', $1)", [
    seal.close('postgres://127.0.0.1:1/none'),
  ]);
  await expect(rotate('20260319')).rejects.toThrow('ECONNREFUSED');
  expect(await days()).toContain('20260318');
});
