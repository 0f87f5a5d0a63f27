/** The journal's order is its own: no stranger holds it up, a writer that is stuck holds up nobody else. */
import { SECOND, encodeFrame } from '@wide-ledger/core';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import pg from 'pg';
import { pino } from 'pino';
import { ROOT } from '../../../launch/ground.mjs';
import { Journal, type NewEntry } from '../../src/archive/journal/journal.ts';
import { Posting } from '../../src/archive/ledger/posting.ts';
import { openDatabase } from '../../src/ground/database/connect.ts';
import { createDatabase } from './testDatabase.ts';
import { frameOf, journalAgainstLedger } from './testSite.ts';

const silent = pino({ level: 'silent' });
const own = await createDatabase();
const stranger = await createDatabase();
const database = await openDatabase(own.url, join(ROOT, 'server'), silent);
const { pool } = database;
const journal = new Journal(database);
const posting = new Posting(pool, { id: 1, pool: () => Promise.resolve(pool) }, 0, silent);
const clients: pg.Client[] = [];
afterAll(async () => {
  for (const client of clients) await client.end().catch(() => undefined);
  await pool.end();
  await own.drop();
  await stranger.drop();
});

async function connect(url: string): Promise<pg.Client> {
  const client = new pg.Client(url);
  client.on('error', () => undefined);
  await client.connect();
  clients.push(client);
  return client;
}

const START = Date.UTC(2026, 1, 1) * 1000;
let tag = 0;
let written = 0;
beforeAll(async () => {
  const { rows } = await pool.query<{ id: number }>(
    `INSERT INTO tag (name, type, unit, description, place, stepped, in_force_since) VALUES ('T', 'real', '', '', '', false, now()) RETURNING id`,
  );
  tag = rows[0]!.id;
  await journal.prepareDays();
});

const entryOf = (writer: string, sequence: number): NewEntry => ({
  writer,
  sequence,
  origin: 'live',
  frame: frameOf(tag, [[START + ++written * SECOND, written]]),
  watches: [],
  outages: [],
  refused: [],
});

/** Begins to append by hand, and stops before the end. */
async function stuckWriter(url: string, writer: string): Promise<pg.Client> {
  const client = await connect(url);
  await client.query('BEGIN');
  const { frame } = entryOf(writer, 1);
  const time = frame!.times[0];
  await client.query(`SELECT append_entry($1, 1, 0::smallint, 1, $2, $2, $3, $4, '[]', '[]', '[]', NULL)`, [
    writer,
    time,
    [tag],
    Buffer.from(encodeFrame(frame!)),
  ]);
  return client;
}

const valuesRead = async (): Promise<number> =>
  Number(
    (await pool.query<{ n: string }>("SELECT count(*) AS n FROM history.sample('T', '-infinity', 'infinity')")).rows[0]!
      .n,
  );

test('a transaction that is open in another database of the cluster, or reads this one, holds up nothing', async () => {
  const other = await connect(stranger.url);
  await other.query('BEGIN');
  await other.query('CREATE TABLE busy AS SELECT pg_current_xact_id()');
  const reader = await connect(own.url);
  await reader.query('BEGIN ISOLATION LEVEL REPEATABLE READ');
  await reader.query('SELECT pg_current_xact_id(), count(*) FROM journal_entry');
  await journal.append(entryOf('w', 1));
  expect(await posting.postBatch()).toBe(1);
  await Promise.all([other.query('ROLLBACK'), reader.query('ROLLBACK')]);
});

test('an advisory lock that a stranger takes is not taken for an entry that is being written', async () => {
  const name = `reader_${randomBytes(4).toString('hex')}`;
  await pool.query(`CREATE ROLE ${name} LOGIN PASSWORD 'read'`);
  const url = new URL(own.url);
  url.username = name;
  url.password = 'read';
  const reader = await connect(url.toString());
  try {
    await reader.query('SELECT pg_advisory_lock(1)');
    await journal.append(entryOf('w', 2));
    expect(await posting.postBatch()).toBe(1);
  } finally {
    await reader.end();
    await pool.query(`DROP ROLE ${name}`);
  }
});

test('a writer that is stuck delays the posting of what comes after it, and neither writers nor readers', async () => {
  const before = await valuesRead();
  await journal.append(entryOf('w', 3));
  const stuck = await stuckWriter(own.url, 'stuck');
  // The others go on writing: nothing waits for anybody.
  for (let sequence = 4; sequence < 10; sequence++) await journal.append(entryOf('w', sequence));
  expect(await valuesRead()).toBe(before + 7);
  expect(await posting.postBatch()).toBe(1);
  expect(await posting.postBatch()).toBe(0);
  await stuck.query('COMMIT');
  await posting.postAll();
  expect(await valuesRead()).toBe(before + 8);
  const { rows } = await pool.query<{ writer: string }>(
    'SELECT writer FROM journal_entry WHERE id > (SELECT entry FROM posting)',
  );
  expect(rows).toEqual([]);
});

test('a writer that dies in the middle is waited for no longer', async () => {
  const stuck = await stuckWriter(own.url, 'dying');
  await journal.append(entryOf('w', 10));
  expect(await posting.postBatch()).toBe(0);
  await stuck.end();
  await posting.postAll();
  const { rows } = await pool.query<{ n: number }>(
    'SELECT count(*)::int AS n FROM journal_entry WHERE id > (SELECT entry FROM posting)',
  );
  expect(rows[0]!.n).toBe(0);
});

test('whatever writers commit in whatever order while others post, every entry is posted once', async () => {
  const url = own.url;
  let posted = 0;
  let writing = true;
  const poster = (async () => {
    while (writing) posted += await posting.postBatch();
  })();
  await Promise.all(
    Array.from({ length: 6 }, async (_, w) => {
      const client = await connect(url);
      for (let n = 1; n <= 30; n++) {
        // Some transactions stay open across the others, and some are given up.
        await client.query('BEGIN');
        const { frame } = entryOf(`crowd-${w}`, n);
        await client.query(`SELECT append_entry($1, $2, 0::smallint, 1, $3, $3, $4, $5, '[]', '[]', '[]', NULL)`, [
          `crowd-${w}`,
          n,
          frame!.times[0],
          [tag],
          Buffer.from(encodeFrame(frame!)),
        ]);
        await client.query(`SELECT pg_sleep(${(n * w) % 4} / 1000.0)`);
        await client.query((n + w) % 7 === 0 ? 'ROLLBACK' : 'COMMIT');
      }
    }),
  );
  writing = false;
  await poster;
  await posting.postAll();
  const { rows } = await pool.query<Record<string, string>>(journalAgainstLedger());
  expect(Object.values(rows[0]!).map(Number)).toEqual([expect.any(Number), Number(rows[0]!.journal), 0, 0]);
  expect(posted).toBeGreaterThan(0);
});

test('one request is one transaction: where its second entry cannot be written, its first is not either', async () => {
  const before = await valuesRead();
  const bad = { ...entryOf('w', 12), writer: null as unknown as string };
  await expect(journal.appendAll([entryOf('w', 11), bad])).rejects.toThrow();
  expect(await valuesRead()).toBe(before);
  expect(await journal.position('w')).toBe(10);
});
