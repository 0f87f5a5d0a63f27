/** Further stores: made ready by their address, tags moved there while values come, months dropped. */
import type { RawAnswer, RetentionPreview, StoresAnswer } from '@wide-ledger/contract';
import { packEntry } from '@wide-ledger/core';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { createDatabase } from './testDatabase.ts';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
const second = await createDatabase();
afterAll(async () => {
  await site.close();
  await second.drop();
});

const MINUTE = 60_000_000;
const START = Date.UTC(2026, 0, 20) * 1000;
const iso = (micros: number): string => new Date(micros / 1000).toISOString();
let sequence = 0;
const deliver = (tag: number, from: number, count: number, value = (i: number): number => i) =>
  site.call(
    'POST',
    '/entries',
    packEntry(
      { writer: 'line', sequence: ++sequence, origin: 'live' },
      frameOf(
        tag,
        Array.from({ length: count }, (_, i) => [from + i * MINUTE, value(i)] as const),
      ),
    ),
  );
const raw = async (tag: string): Promise<unknown[]> => {
  const path = `/history/raw?tag=${tag}&from=${iso(START)}&to=${iso(START + 90 * 1440 * MINUTE)}&limit=100000`;
  return (await site.call<RawAnswer>('GET', path)).body.samples.map(({ value }) => value);
};
const stores = async (): Promise<StoresAnswer['stores']> =>
  (await site.call<StoresAnswer>('GET', '/stores')).body.stores;
async function moved(tag: string): Promise<void> {
  for (;;) {
    const rows = await site.query('SELECT 1 FROM tag_move m JOIN tag t ON t.id = m.tag_id WHERE t.name = $1', [tag]);
    if (rows.length === 0) return;
    await new Promise((done) => setTimeout(done, 20));
  }
}

test('a store is made ready on first use, keeps its password to itself and refuses a second site', async () => {
  const { url } = second;
  const made = await site.call<{ id: number }>('POST', '/stores', { name: 'Long term', url });
  expect(made.status).toBe(201);
  expect((await stores()).map(({ name: one, failure }) => [one, failure])).toEqual([
    ['Embedded', null],
    ['Long term', null],
  ]);
  const [{ sealed_url }] = (await site.query<{ sealed_url: string }>('SELECT sealed_url FROM store WHERE id = 2')) as [
    { sealed_url: string },
  ];
  expect(sealed_url).not.toContain('postgres');
  // Nowhere else either: not in what readers are told, not in the database as a backup has it.
  const password = new URL(url).password;
  expect(password.length).toBeGreaterThan(10);
  const told = await site.call<object>('GET', '/stores');
  expect(JSON.stringify(told.body)).not.toContain(password);
  expect(JSON.stringify(told.body)).toContain(new URL(url).pathname);
  const dump = execFileSync(join(process.env.TEST_POSTGRES_PROGRAMS!, 'pg_dump'), [site.databaseUrl], {
    encoding: 'utf8',
  });
  expect(dump).toContain('Long term');
  expect(dump).not.toContain(password);
  const other = await TestSite.open();
  try {
    const answer = await other.call<{ detail: string }>('POST', '/stores', { name: 'Mine', url });
    expect([answer.status, answer.body.detail]).toEqual([
      400,
      'This database already is a store of another site. Give each site a database of its own.',
    ]);
  } finally {
    await other.close();
  }
});

test('a database is one store: neither the site’s own, nor the same one by another spelling, nor another site’s home', async () => {
  const refused = async (url: string): Promise<unknown[]> => {
    const { status, body } = await site.call<{ detail: string }>('POST', '/stores', { name: 'Twice', url });
    return [status, body.detail];
  };
  const spelled = (url: string): string => url.replace('127.0.0.1', 'localhost');
  for (const url of [second.url, spelled(second.url)]) {
    expect(await refused(url)).toEqual([400, 'This database is registered already, as the store Long term.']);
  }
  for (const url of [site.databaseUrl, spelled(site.databaseUrl)]) {
    expect(await refused(url)).toEqual([400, 'This is the site’s own database: the embedded store is in it already.']);
  }
  const other = await TestSite.open();
  try {
    expect(await refused(other.databaseUrl)).toEqual([
      400,
      'This database already is a store of another site. Give each site a database of its own.',
    ]);
  } finally {
    await other.close();
  }
  const { body } = await site.call<{ stores: { name: string }[] }>('GET', '/stores');
  expect(body.stores.map(({ name }) => name)).toEqual(['Embedded', 'Long term']);
});

test('two servers of one site, and tags on the way between stores: every value stays, once', async () => {
  const beside = await site.beside();
  try {
    const names = ['Pair0', 'Pair1', 'Pair2'];
    const tags = await Promise.all(names.map((name) => site.tag({ name })));
    for (const tag of tags) await deliver(tag, START, 3000);
    await site.site.posting.postAll();
    let minutes = 3000;
    for (const target of ['Long term', 'Embedded', 'Long term']) {
      // Both servers are told, and both have workers: one of them moves.
      const start = (base: string): Promise<Response> =>
        fetch(`${base}/api/v1/stores/moves`, {
          method: 'POST',
          headers: { cookie: site.cookie, 'content-type': 'application/json' },
          body: JSON.stringify({ tags: names, store: target }),
        });
      await Promise.all([start(site.site.url), start(beside.url)]);
      for (let i = 0; i < 5; i++, minutes += 10) {
        for (const tag of tags) await deliver(tag, START + minutes * MINUTE, 10);
        await Promise.all([site.site.posting.postBatch(), beside.posting.postBatch()]);
      }
      for (const name of names) await moved(name);
      await site.site.posting.postAll();
      for (const name of names) expect([name, (await raw(name)).length]).toEqual([name, minutes]);
    }
  } finally {
    await beside.close();
  }
});

test('an address where nothing is gives a sentence', async () => {
  const answer = await site.call<{ detail: string; code: string }>('POST', '/stores', {
    name: 'Nowhere',
    url: 'postgres://nobody@127.0.0.1:1/none',
  });
  expect([answer.status, answer.body.code]).toEqual([400, 'ECONNREFUSED']);
});

test('a tag created in a further store is posted there and read from there', async () => {
  const tag = await site.tag({ name: 'Far', store: 'Long term' });
  await deliver(tag, START, 100);
  expect(await raw('Far')).toHaveLength(100);
  await site.site.posting.postAll();
  expect(await raw('Far')).toEqual(Array.from({ length: 100 }, (_, i) => i));
  expect(await site.query('SELECT 1 FROM every_block WHERE tag_id = $1', [tag])).toEqual([]);
});

test('a tag moves with history, old values and annotations while values come, there and back', async () => {
  const tag = await site.tag({ name: 'Nomad' });
  await deliver(tag, START, 5000);
  await deliver(tag, START, 1, () => -1);
  await site.call('POST', '/annotations', { tag: 'Nomad', time: iso(START), text: 'Moved once' });
  await site.site.posting.postAll();
  let expected = [-1, ...Array.from({ length: 4999 }, (_, i) => i + 1)];
  for (const target of ['Long term', 'Embedded']) {
    const coming = (async () => {
      for (let i = 0; i < 20; i++) {
        const at = START + expected.length * MINUTE;
        await deliver(tag, at, 10, (k) => k + i);
        expected = [...expected, ...Array.from({ length: 10 }, (_, k) => k + i)];
        if (i % 4 === 0) await site.site.posting.postBatch();
        // Whatever the state of the move, everything acknowledged is read.
        expect(await raw('Nomad')).toHaveLength(expected.length);
      }
    })();
    const answer = await site.call<{ started: number }>('POST', '/stores/moves', { tags: ['Nomad'], store: target });
    expect(answer.body.started).toBe(1);
    await coming;
    await moved('Nomad');
    await site.site.posting.postAll();
    expect(await raw('Nomad')).toEqual(expected);
    const old = await site.call<{ samples: { value: number }[] }>(
      'GET',
      `/history/modified?tag=Nomad&from=${iso(START)}&to=${iso(START + MINUTE)}`,
    );
    expect(old.body.samples.map(({ value }) => value)).toEqual([0]);
    const notes = await site.call<{ annotations: { text: string }[] }>(
      'GET',
      `/annotations?tags=Nomad&from=${iso(START)}&to=${iso(START + MINUTE)}`,
    );
    expect(notes.body.annotations.map(({ text }) => text)).toEqual(['Moved once']);
  }
  expect(await site.query('SELECT 1 FROM every_block WHERE tag_id = $1', [tag])).not.toEqual([]);
});

test('a tag that comes back with much more than it left with: its month is where the store now keeps it', async () => {
  const tag = await site.tag({ name: 'Returning' });
  const START_OLD = Date.UTC(2021, 2, 1) * 1000;
  const count = async (): Promise<number> =>
    (
      await site.call<{ rows: { value: number }[] }>(
        'GET',
        '/history/processed?tag=Returning&aggregate=Count&interval=P1Y&from=2021-01-01T00:00:00Z&to=2022-01-01T00:00:00Z',
      )
    ).body.rows[0]!.value;
  let written = 0;
  const write = async (samples: number): Promise<void> => {
    await deliver(tag, START_OLD + written * MINUTE, samples);
    written += samples;
    await site.site.posting.postAll();
  };
  const moveTo = async (store: string): Promise<void> => {
    await site.call('POST', '/stores/moves', { tags: ['Returning'], store });
    await moved('Returning');
  };
  await moveTo('Long term');
  await write(100);
  await moveTo('Embedded');
  await write(25_000);
  await moveTo('Long term');
  await write(100);
  expect(await count()).toBe(written);
  await moveTo('Embedded');
  expect(await count()).toBe(written);
});

test('retention shows what will go, drops whole months, and sets aside what comes for them later', async () => {
  const tag = await site.tag({ name: 'Old' });
  const old = Date.UTC(2020, 4, 31, 23, 50) * 1000;
  await deliver(tag, old, 20);
  await site.call('POST', '/annotations', { tag: 'Old', time: iso(old), text: 'Gone with its month' });
  await site.site.posting.postAll();
  const now = new Date();
  const months = (now.getUTCFullYear() - 2020) * 12 + now.getUTCMonth() - 5;
  const { body: preview } = await site.call<RetentionPreview>('GET', `/stores/1/retention?months=${months}`);
  expect(preview.keepsSince).toBe('2020-06-01T00:00:00.000Z');
  expect(preview.months).toMatchObject([{ month: '2020-05', samples: 10, tags: 1, annotations: 1, first: iso(old) }]);
  await site.call('PUT', '/stores/1/retention', { months });
  await site.jobsDone('retention');
  const left = async (): Promise<number> => {
    const path = `/history/raw?tag=Old&from=2020-01-01T00:00:00Z&to=2021-01-01T00:00:00Z`;
    return (await site.call<RawAnswer>('GET', path)).body.samples.length;
  };
  expect(await left()).toBe(10);
  const late = await site.call<{ setAside: { reason: string }[] }>('POST', '/samples', {
    samples: [{ tag: 'Old', time: iso(old), value: 1 }],
  });
  expect(late.body.setAside[0]!.reason).toContain('since when the store of Old keeps values');
});
