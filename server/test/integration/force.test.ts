/** Putting in force, broken off at every step: the configuration is the old or the new one, never between. */
import type { Body } from '@wide-ledger/core';
import pg from 'pg';
import { putInForce } from '../../src/configuration/force/force.ts';
import type { Wish } from '../../src/configuration/force/settle.ts';
import { newIds } from '../../src/configuration/definitions/definitions.ts';
import { TestSite } from './testSite.ts';

const site = await TestSite.open();
const home = new pg.Pool({ connectionString: site.databaseUrl });
home.on('error', () => undefined);
afterAll(async () => {
  await home.end();
  await site.close();
});

/** A pool whose connections are cut just before the n-th statement, or just after the last: its answer is lost. */
function cutBefore(n: number): { pool: pg.Pool; wasCut: () => boolean } {
  let cut = false;
  const pool = {
    connect: async () => {
      const client = await home.connect();
      client.on('error', () => undefined);
      const { pid } = (await client.query<{ pid: number }>('SELECT pg_backend_pid() AS pid')).rows[0]!;
      let statements = 0;
      return {
        query: async (...given: [string, unknown[]]) => {
          if (++statements === n) {
            cut = true;
            await home.query('SELECT pg_terminate_backend($1)', [pid]);
          }
          return client.query(...given);
        },
        release: (broken?: Error | boolean) => client.release(broken),
      };
    },
  };
  return { pool: pool as unknown as pg.Pool, wasCut: () => cut };
}

interface Shown {
  readonly version: number;
  readonly versions: number;
  readonly bodies: Body[];
  readonly projected: { name: string; unit: string; interval: number }[];
  readonly duty: number;
}

/** All that a version changes, read at one moment. */
async function shown(): Promise<Shown> {
  const [row] = await site.query<Shown>(
    `SELECT (SELECT version FROM configuration) AS version,
            (SELECT count(*)::int FROM configuration_version) AS versions,
            (SELECT jsonb_agg(body ORDER BY kind, id) FROM definition WHERE version_to IS NULL) AS bodies,
            (SELECT jsonb_agg(jsonb_build_object('name', name, 'unit', unit, 'interval', reading -> 'intervalMilliseconds') ORDER BY id) FROM tag) AS projected,
            (SELECT count(*)::int FROM duty WHERE until IS NULL) AS duty`,
  );
  return row!;
}

await site.call('PUT', '/sources', { name: 'S', kind: 'modbus-tcp', connection: { host: '', port: 502, unit: 1 } });
const tags: number[] = [];
for (const [i, name] of ['A', 'B', 'C'].entries()) {
  tags.push(
    await site.tag({ name, place: 'Here', collection: { source: 'S', address: { area: 'holding', address: i } } }),
  );
}

test('cut at each of its statements', async () => {
  const by = { who: 'tester', whence: '' };
  let unit = 0;
  let whole = 0;
  for (let n = 1; whole < 2; n++) {
    const before = await shown();
    unit++;
    const [pace] = await newIds(home, 'pace', 1);
    const inForce = await home.query<{ id: number; body: Body }>(
      "SELECT id, body FROM definition WHERE kind = 'tag' AND version_to IS NULL AND id = ANY($1)",
      [tags],
    );
    const wishes: Wish[] = [
      {
        kind: 'pace',
        id: pace!,
        base: null,
        body: {
          name: `Pace ${n}`,
          description: '',
          intervalMilliseconds: 1000 + n,
          aligned: true,
          deadband: { kind: 'none' },
          longestSilenceSeconds: null,
        },
      },
      ...inForce.rows.map(({ id, body }): Wish => ({
        kind: 'tag',
        id,
        base: body,
        body: { ...body, unit: `u${unit}`, pace: pace!, settings: {}, paused: n % 2 === 0 },
      })),
    ];
    const { pool, wasCut } = cutBefore(n);
    const outcome = await putInForce(pool, { by, reason: `${n}`, wishes }).then(
      () => 'new' as const,
      () => 'old' as const,
    );
    const after = await shown();
    if (outcome === 'new') {
      whole++;
      expect(wasCut()).toBe(false);
      expect(after).toMatchObject({
        version: before.version + 1,
        versions: before.versions + 1,
        duty: n % 2 === 0 ? 0 : 3,
      });
      expect(after.projected.map((one) => [one.unit, one.interval])).toEqual(tags.map(() => [`u${unit}`, 1000 + n]));
    } else {
      expect(wasCut()).toBe(true);
      expect(after).toEqual(before);
    }
  }
  // Ten statements and more were cut before.
  expect(unit).toBeGreaterThan(10);
});
