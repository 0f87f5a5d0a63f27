/**
 * A database of the version before is brought up to date. The two backups beside this test were made by that version:
 * three thousand values and more, old values, annotations, a removal, 64-bit integers, entries not yet posted, and, in the
 * home and in a further store, marks in the middle of entries whose numbers are not in the order of their transactions.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from '../../../launch/ground.mjs';
import { createDatabase, type TestDatabase } from './testDatabase.ts';
import { TestSite, frameOf, journalAgainstLedger } from './testSite.ts';

async function restored(file: string): Promise<TestDatabase> {
  const own = await createDatabase();
  const { status, stderr } = spawnSync(
    join(process.env.TEST_POSTGRES_PROGRAMS!, 'psql'),
    ['-q', '-v', 'ON_ERROR_STOP=1', own.url],
    { input: readFileSync(join(ROOT, 'server/test/upgrade', file)), encoding: 'utf8' },
  );
  if (status !== 0) throw new Error(stderr);
  return own;
}

const home = await restored('foundation-home.sql');
const second = await restored('foundation-second.sql');
const site = await TestSite.on(home, { Second: second.url });
afterAll(async () => {
  await site.close();
  await second.drop();
});

const read = async (tag: string): Promise<{ n: number; sum: number; texts: number }> => {
  const path = `/history/raw?tag=${tag}&from=1900-01-01T00:00:00Z&to=2200-01-01T00:00:00Z&limit=100000`;
  const { body } = await site.call<{ samples: { value: unknown }[] }>('GET', path);
  const numbers = body.samples.map(({ value }) => Number(value)).filter((value) => !Number.isNaN(value));
  const sum = Math.round(numbers.reduce((total, value) => total + value, 0) * 10) / 10;
  return { n: body.samples.length, sum, texts: body.samples.length - numbers.length };
};

/** Counted by the version before, on the databases that the backups were made of. */
const COUNTED = {
  A: { n: 2991, sum: 110_338.2, texts: 0 },
  C: { n: 2, sum: 0, texts: 2 },
  D: { n: 1, sum: 1, texts: 0 },
  // 3,010 posted, summing up to 4,558,645, and ten that were passed over by nobody yet.
  E: { n: 3020, sum: 4_558_645 + 50_145, texts: 0 },
} as const;

test('every tag reads as before: at once, and when everything is posted', async () => {
  for (const posted of [false, true]) {
    if (posted) await site.site.posting.postAll();
    for (const [tag, expected] of Object.entries(COUNTED)) expect([tag, await read(tag)]).toEqual([tag, expected]);
    expect((await read('B')).n).toBe(22);
    expect(
      (
        await site.call<{ samples: { value: unknown }[] }>(
          'GET',
          '/history/raw?tag=B&from=2026-02-01T00:00:00Z&to=2026-02-01T00:00:01Z',
        )
      ).body.samples[0]!.value,
    ).toBe('9223372036854775807');
  }
  expect(await site.query('SELECT FROM journal_entry j, posting p WHERE j.id > p.entry')).toEqual([]);
  const [compared] = await site.query<Record<string, number>>(journalAgainstLedger(5));
  expect(compared).toMatchObject({ missing: 0, extra: 0 });
});

test('old values, annotations, what was set aside and jobs are there', async () => {
  const [counts] = await site.query<Record<string, number>>(
    `SELECT (SELECT count(*) FROM modified_sample) AS modified, round((SELECT sum(value) FROM modified_sample)::numeric, 1)::float8 AS "modifiedSum",
            (SELECT count(*) FROM annotation) AS annotations, (SELECT count(*) FROM set_aside) AS aside,
            (SELECT count(*) FROM job WHERE title = 'Old work') AS jobs, (SELECT sum(samples) FROM journal_entry) AS samples`,
  );
  expect(counts).toEqual({ modified: 31, modifiedSum: 263.3, annotations: 1, aside: 1, jobs: 1, samples: 6098 });
  const { body } = await site.call<{ annotations: { text: string }[] }>(
    'GET',
    '/annotations?tags=A,E&from=2026-01-30T00:00:00Z&to=2026-01-31T00:00:00Z',
  );
  expect(body.annotations.map(({ text }) => text)).toEqual(['The span was wrong.', 'In the second store.']);
});

test('what comes now goes on from there, in both stores, and a writer goes on counting', async () => {
  const [a, e] = await site.query<{ id: number }>("SELECT id FROM tag WHERE name IN ('A', 'E') ORDER BY name");
  const time = Date.UTC(2026, 5, 1) * 1000;
  const repeated = await site.entry({ writer: 'w', sequence: 12, origin: 'live' }, frameOf(a!.id, [[time, 1]]));
  expect(repeated.body.repeated).toBe(true);
  await site.entry({ writer: 'w', sequence: 13, origin: 'live' }, frameOf(a!.id, [[time, 1]]));
  await site.entry({ writer: 'w', sequence: 14, origin: 'live' }, frameOf(e!.id, [[time, 1]]));
  await site.site.posting.postAll();
  expect((await read('A')).n).toBe(2992);
  expect((await read('E')).n).toBe(3021);
});

test('the store is known by its identity from now on', async () => {
  const answer = await site.call<{ detail: string }>('POST', '/stores', { name: 'Again', url: second.url });
  expect([answer.status, answer.body.detail]).toEqual([
    400,
    'This database is registered already, as the store Second.',
  ]);
});

test('what was configured is the first version, with all its fields, and goes on from there', async () => {
  const { body: before } = await site.call<{ versions: { number: number; by: string }[] }>('GET', '/versions');
  expect(before.versions.map(({ by }) => by)).toEqual(['Wide Ledger']);
  const { body } = await site.call<{ definitions: { body: Record<string, unknown> }[] }>(
    'GET',
    '/definitions?kind=tag',
  );
  const stores = await site.query<{ id: number; name: string }>('SELECT id, name FROM store ORDER BY id');
  const storeOf = new Map(
    body.definitions.map((one) => [one.body.name, stores.find(({ id }) => id === one.body.store)?.name]),
  );
  expect([storeOf.get('A'), storeOf.get('E')]).toEqual(['Embedded', 'Second']);
  // Each definition is what its tag was.
  const [differing] = await site.query<{ n: number }>(
    `SELECT count(*)::int AS n FROM tag t LEFT JOIN definition d ON d.kind = 'tag' AND d.id = t.id AND d.version_to IS NULL
     WHERE (d.body ->> 'name', d.body ->> 'type', d.body ->> 'unit', (d.body ->> 'stepped')::boolean, (d.body ->> 'low')::float8)
           IS DISTINCT FROM (t.name, t.type, t.unit, t.stepped, t.low)
        OR (d.body ->> 'since')::timestamptz IS DISTINCT FROM t.in_force_since`,
  );
  expect(differing!.n).toBe(0);
  const changed = await site.call<{ unit: string; description: string }>('PATCH', '/tags/A', {
    description: 'Upgraded',
  });
  expect([changed.status, changed.body.description]).toEqual([200, 'Upgraded']);
  const { body: after } = await site.call<{ versions: { number: number }[] }>('GET', '/versions');
  expect(after.versions[0]!.number).toBe(before.versions[0]!.number + 1);
});
