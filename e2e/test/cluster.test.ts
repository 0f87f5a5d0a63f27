/** The private cluster comes back after a power cut, also while processes of the one before are still at work. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { freePort } from '../../launch/ground.mjs';
import { clusterFolder, startCluster } from '../../launch/postgres.mjs';

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-cluster-'));

afterAll(() => {
  rmSync(clusterFolder(folder), { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
});

test('a cluster killed in the middle of a long statement starts again once that statement has ended', async () => {
  const port = await freePort();
  const programs = process.env.TEST_POSTGRES_PROGRAMS!;
  const first = await startCluster(programs, folder, port);
  const busy = new pg.Client(`${first.url}/postgres`);
  busy.on('error', () => undefined);
  await busy.connect();
  await busy.query('CREATE TABLE kept AS SELECT 1 AS n');
  // Counting does not look up from its work: its process outlives the cluster.
  const counting = busy.query('SELECT count(*) FROM generate_series(1, 30000000)').catch(() => undefined);
  const watching = new pg.Client(`${first.url}/postgres`);
  watching.on('error', () => undefined);
  await watching.connect();
  for (;;) {
    const { rows } = await watching.query(
      "SELECT 1 FROM pg_stat_activity WHERE query LIKE 'SELECT count%' AND state = 'active'",
    );
    if (rows.length > 0) break;
  }
  await first.kill();
  const second = await startCluster(programs, folder, port);
  const asking = new pg.Client(`${second.url}/postgres`);
  await asking.connect();
  expect((await asking.query('SELECT n FROM kept')).rows).toEqual([{ n: 1 }]);
  await asking.end();
  await second.stop();
  await counting;
  await busy.end().catch(() => undefined);
  await watching.end().catch(() => undefined);
}, 120_000);
