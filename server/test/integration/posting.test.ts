/** Posting beside moves of tags between stores. */
import { SECOND } from '@wide-ledger/core';
import { join } from 'node:path';
import type { Pool } from 'pg';
import { pino } from 'pino';
import { ROOT } from '../../../launch/ground.mjs';
import { openDatabase } from '../../src/ground/database/connect.ts';
import { Journal } from '../../src/archive/journal/journal.ts';
import { Posting } from '../../src/archive/ledger/posting.ts';
import { createDatabase } from './testDatabase.ts';
import { frameOf } from './testSite.ts';

const silent = pino({ level: 'silent' });
const own = await createDatabase();
const database = await openDatabase(own.url, join(ROOT, 'server'), silent);
const { pool } = database;
afterAll(async () => {
  await pool.end();
  await own.drop();
});

/** A pool that is looked at whenever posting reads entries or asks whose tags they are. */
function watched(look: (query: string) => Promise<void>): Pool {
  const query = async (...given: Parameters<Pool['query']>): Promise<unknown> => {
    const [asked] = given as unknown as [{ name?: string }];
    if (asked.name) await look(asked.name);
    return pool.query(...given);
  };
  return Object.assign(Object.create(pool) as Pool, { query });
}

test('what a store posts is read and decided while its mark is taken, so that no tag can move meanwhile', async () => {
  const { rows } = await pool.query<{ id: number }>(
    `INSERT INTO tag (name, type, unit, description, place, stepped, in_force_since) VALUES ('T', 'real', '', '', '', false, now()) RETURNING id`,
  );
  const frame = frameOf(rows[0]!.id, [[Date.UTC(2026, 0, 1) * 1000 + SECOND, 1]]);
  const entry = { writer: 'w', sequence: 1, origin: 'live', frame, watches: [], outages: [], refused: [] } as const;
  await new Journal(database).append(entry);
  const seen = new Map<string, boolean>();
  const home = watched(async (name) => {
    const { rowCount } = await pool.query('SELECT 1 FROM posting FOR UPDATE SKIP LOCKED');
    seen.set(name, rowCount === 0);
  });
  const posting = new Posting(home, { id: 1, pool: () => Promise.resolve(pool) }, 0, silent);
  expect(await posting.postBatch()).toBe(1);
  expect(Object.fromEntries(seen)).toEqual({ journal_frontier: true, next_entries: true, own_tags: true });
  expect(await posting.postBatch()).toBe(0);
});

test('two that post at the same time do not post twice', async () => {
  const tag = (await pool.query<{ id: number }>("SELECT id FROM tag WHERE name = 'T'")).rows[0]!.id;
  const journal = new Journal(database);
  for (let n = 1; n <= 20; n++) {
    const frame = frameOf(tag, [[Date.UTC(2026, 0, 2) * 1000 + n * SECOND, n]]);
    await journal.append({ writer: 'v', sequence: n, origin: 'live', frame, watches: [], outages: [], refused: [] });
  }
  const store = { id: 1, pool: () => Promise.resolve(pool) };
  const both = [new Posting(pool, store, 0, silent), new Posting(pool, store, 0, silent)];
  const posted = await Promise.all(both.map((posting) => posting.postBatch()));
  expect(posted.sort((a, b) => a - b)).toEqual([0, 20]);
  const { rows } = await pool.query<{ n: number }>('SELECT sum(samples)::int AS n FROM every_block');
  expect(rows[0]!.n).toBe(21);
});
