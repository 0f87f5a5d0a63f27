/** A backup is restored into a new cluster and the site goes on; a home that is older than its store catches up. */
import { SECOND } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { freePort } from '../../../launch/ground.mjs';
import { clusterFolder, startCluster, type Cluster } from '../../../launch/postgres.mjs';
import { backup, createDatabase, restore } from './testDatabase.ts';
import { TestSite, frameOf, journalAgainstLedger } from './testSite.ts';

const programs = process.env.TEST_POSTGRES_PROGRAMS!;
const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-restore-'));
let cluster: Cluster;
beforeAll(async () => {
  cluster = await startCluster(programs, folder, await freePort());
});
afterAll(async () => {
  await cluster.stop();
  rmSync(clusterFolder(folder), { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
});

const START = Date.UTC(2026, 2, 1) * 1000;
const deliver = (site: TestSite, tag: number, sequence: number): Promise<unknown> =>
  site.entry({ writer: 'w', sequence, origin: 'live' }, frameOf(tag, [[START + sequence * SECOND, sequence]]));
const read = async (site: TestSite, tag = 'T'): Promise<number[]> =>
  (
    await site.call<{ samples: { value: number }[] }>(
      'GET',
      `/history/raw?tag=${tag}&from=2026-03-01T00:00:00Z&to=2026-03-02T00:00:00Z`,
    )
  ).body.samples.map(({ value }) => value);
const upTo = (n: number): number[] => Array.from({ length: n }, (_, i) => i + 1);

test('into a cluster whose transactions are counted from the beginning', async () => {
  const before = await TestSite.open();
  // The old cluster has counted far; the new one begins with the first transaction.
  await before.site.database.pool.query(
    'DO $$ BEGIN FOR n IN 1..3000 LOOP PERFORM pg_current_xact_id(); COMMIT; END LOOP; END $$',
  );
  const tag = await before.tag({ name: 'T' });
  for (let n = 1; n <= 20; n++) {
    await deliver(before, tag, n);
    if (n === 15) await before.site.posting.postAll();
  }
  const dump = backup(before.databaseUrl);
  const { rows } = await before.site.database.pool.query<{ tx: string }>('SELECT pg_current_xact_id()::text AS tx');
  await before.close();

  const after = await TestSite.on(await restore(dump, cluster.url));
  try {
    const now = await after.query<{ tx: string }>('SELECT pg_current_xact_id()::text AS tx');
    expect(BigInt(now[0]!.tx)).toBeLessThan(BigInt(rows[0]!.tx));
    expect(await read(after)).toEqual(upTo(20));
    for (let n = 18; n <= 30; n++) await deliver(after, tag, n);
    expect(await read(after)).toEqual(upTo(30));
    await after.site.posting.postAll();
    expect(await after.query('SELECT FROM journal_entry j, posting p WHERE j.id > p.entry')).toEqual([]);
    expect(await read(after)).toEqual(upTo(30));
    const [compared] = await after.query<Record<string, number>>(journalAgainstLedger());
    expect(compared).toMatchObject({ journal: 30, ledger: 30, missing: 0, extra: 0 });
  } finally {
    await after.close();
  }
});

test('a home that is older than its further store: what comes now is posted there too', async () => {
  const second = await createDatabase();
  const before = await TestSite.open();
  await before.call('POST', '/stores', { name: 'Second', url: second.url });
  const tag = await before.tag({ name: 'T', store: 'Second' });
  for (let n = 1; n <= 5; n++) await deliver(before, tag, n);
  await before.site.posting.postAll();
  const dump = backup(before.databaseUrl);
  // What came after the backup is known to the store alone.
  for (let n = 6; n <= 12; n++) await deliver(before, tag, n);
  await before.site.posting.postAll();
  await before.site.close();

  // The same data folder: it holds the key under which the store's address is sealed.
  const restored = await restore(dump, process.env.TEST_DATABASE_URL!);
  const after = await before.movedTo(restored);
  try {
    expect(await read(after)).toEqual(upTo(12));
    for (let n = 13; n <= 16; n++) await deliver(after, tag, n);
    const store = new pg.Client(second.url);
    await store.connect();
    // The posting thread looks at its stores by itself, and finds the store ahead of the journal.
    for (let posted = 0; posted < 16;) {
      const { rows } = await store.query<{ n: string }>('SELECT coalesce(sum(samples), 0) AS n FROM every_block');
      posted = Number(rows[0]!.n);
      await new Promise((done) => setTimeout(done, 100));
    }
    await store.end();
    expect(await read(after)).toEqual(upTo(16));
  } finally {
    await after.close();
    await before.drop();
    await second.drop();
  }
});
