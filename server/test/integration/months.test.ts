/** History of any age: few tables, few locks, short plans. */
import { SECOND, monthStart, nextMonth, packEntry, parseInstant } from '@wide-ledger/core';
import { EVERY_SAMPLE, openTagLedger } from '../../src/archive/reading/tagLedger.ts';
import { Stores } from '../../src/archive/stores/stores.ts';
import { Seal } from '@wide-ledger/vault';
import { pino } from 'pino';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

const tables = async (): Promise<number> =>
  (
    await site.query<{ n: number }>(
      `SELECT count(*)::int AS n FROM pg_class WHERE relkind = 'r' AND relname ~ '^ledger_block_' AND relnamespace = 'public'::regnamespace`,
    )
  )[0]!.n;

test('a value a month for 126 years, in one request: one table, and every way of reading', async () => {
  const tag = await site.tag({ name: 'Old' });
  const before = await tables();
  const months = Array.from({ length: 1512 }, (_, m) => Date.UTC(1900, m, 15) * 1000);
  const { body } = await site.call<{ accepted: number }>('POST', '/samples', {
    samples: months.map((time, m) => ({ tag: 'Old', time: new Date(time / 1000).toISOString(), value: m })),
  });
  expect(body.accepted).toBe(1512);
  await site.site.posting.postAll();
  // The present month and the one before have tables of their own.
  expect((await tables()) - before).toBeLessThanOrEqual(2);
  const read = async (query: string): Promise<unknown[]> =>
    (await site.call<{ samples: { value: unknown }[] }>('GET', `/history/raw?tag=Old&${query}`)).body.samples.map(
      ({ value }) => value,
    );
  const every = Array.from({ length: 1512 }, (_, m) => m);
  expect(await read('from=1899-01-01T00:00:00Z&to=2027-01-01T00:00:00Z')).toEqual(every);
  expect(await read('from=1899-01-01T00:00:00Z&to=2027-01-01T00:00:00Z&order=newest&limit=3')).toEqual([
    1511, 1510, 1509,
  ]);
  // Bounds on both sides of a window without a value.
  expect(await read('from=1950-01-01T00:00:00Z&to=1950-01-02T00:00:00Z&bounds=true')).toEqual([599, 600]);
  const processed = await site.call<{ rows: { value: number }[] }>(
    'GET',
    '/history/processed?tag=Old&aggregate=Count&interval=P1Y&from=1900-01-01T00:00:00Z&to=2026-01-01T00:00:00Z',
  );
  expect(processed.body.rows.map(({ value }) => value)).toEqual(Array.from({ length: 126 }, () => 12));
  const [inSql] = await site.query<{ n: number; sum: number }>(
    "SELECT count(*)::int AS n, sum(value) AS sum FROM history.sample('Old', '-infinity', 'infinity')",
  );
  expect(inSql).toEqual({ n: 1512, sum: (1511 * 1512) / 2 });
  // A correction far back, and a removal, find their blocks.
  await site.call('POST', '/history/corrections', {
    tag: 'Old',
    reason: 'misread',
    samples: [{ time: '1950-01-15T00:00:00Z', value: -1 }],
  });
  await site.call('POST', '/history/removals', {
    tag: 'Old',
    reason: 'no value',
    from: '1900-01-01T00:00:00Z',
    to: '1901-01-01T00:00:00Z',
  });
  await site.site.posting.postAll();
  expect(await read('from=1899-01-01T00:00:00Z&to=1950-02-01T00:00:00Z')).toEqual([...every.slice(12, 600), -1]);
  expect(tag).toBeGreaterThan(0);
});

test('a month that comes to hold much gets a table of its own, and takes along what the shared one held of it', async () => {
  const thin = await site.tag({ name: 'Thin' });
  const dense = await site.tag({ name: 'Dense' });
  const start = parseInstant('2019-05-10T00:00:00Z')!;
  await site.entry({ writer: 'a', sequence: 1, origin: 'backfilled' }, frameOf(thin, [[start, 1]]));
  await site.site.posting.postAll();
  const partsOf = async (tag: number): Promise<string[]> =>
    (await site.query<{ part: string }>('SELECT part FROM ledger_month WHERE tag_id = $1', [tag])).map(
      ({ part }) => part,
    );
  expect(await partsOf(thin)).toEqual(['rest']);
  await site.entry(
    { writer: 'a', sequence: 2, origin: 'backfilled' },
    frameOf(
      dense,
      Array.from({ length: 25_000 }, (_, i): [number, number] => [start + i * SECOND, i % 7]),
    ),
  );
  await site.site.posting.postAll();
  expect([await partsOf(thin), await partsOf(dense)]).toEqual([['201905'], ['201905']]);
  await site.entry({ writer: 'a', sequence: 3, origin: 'backfilled' }, frameOf(thin, [[start + SECOND, 2]]));
  await site.site.posting.postAll();
  const { body } = await site.call<{ samples: { value: number }[] }>(
    'GET',
    '/history/raw?tag=Thin&from=2019-05-01T00:00:00Z&to=2019-06-01T00:00:00Z',
  );
  expect(body.samples.map(({ value }) => value)).toEqual([1, 2]);
});

test('a reading over forty tables holds locks on a few of them at a time, and sees one snapshot', async () => {
  const tag = await site.tag({ name: 'Long' });
  const rows: [number, number][] = [];
  for (let month = monthStart(parseInstant('2016-01-01T00:00:00Z')!), m = 0; m < 40; m++, month = nextMonth(month)) {
    await site.query('SELECT ensure_ledger_month($1)', [month]);
    rows.push([month + SECOND, m]);
  }
  await site.entry({ writer: 'b', sequence: 1, origin: 'backfilled' }, frameOf(tag, rows));
  await site.site.posting.postAll();
  const stores = new Stores(site.site.database.pool, new Seal(new Uint8Array(32)), pino({ level: 'silent' }));
  const ledger = await openTagLedger(stores, { id: tag, store: 1 });
  let most = 0;
  const values: number[] = [];
  const reader = { ...EVERY_SAMPLE, neighbours: true, usesUncertain: true };
  for await (const piece of ledger.pieces(rows[0]![0], rows[39]![0] + 1, reader)) {
    if (piece.kind === 'samples') values.push(...piece.frame.values);
    const [held] = await ledger.rows<{ n: number }>(
      `SELECT count(DISTINCT relation)::int AS n FROM pg_locks l JOIN pg_class c ON c.oid = l.relation
       WHERE l.pid = pg_backend_pid() AND c.relkind = 'r' AND c.relname LIKE 'ledger_block%'`,
      [],
    );
    most = Math.max(most, held!.n);
    // What is written meanwhile is not in this snapshot.
    if (values.length === 20) {
      await site.entry({ writer: 'b', sequence: 2, origin: 'corrected' }, frameOf(tag, [[rows[39]![0], -1]]));
      await site.site.posting.postAll();
    }
  }
  await ledger.close();
  expect(values).toEqual(rows.map(([, value]) => value));
  expect(most).toBeGreaterThan(0);
  expect(most).toBeLessThanOrEqual(12);
});

test('a table that retention drops while somebody reads is history no more, and no failure', async () => {
  const tag = await site.tag({ name: 'Leaving' });
  const [first, second] = ['2015-01-10T00:00:00Z', '2015-02-10T00:00:00Z'].map((text) => parseInstant(text)!);
  for (const time of [first!, second!]) await site.query('SELECT ensure_ledger_month($1)', [monthStart(time)]);
  await site.entry(
    { writer: 'c', sequence: 1, origin: 'backfilled' },
    frameOf(tag, [
      [first!, 1],
      [second!, 2],
    ]),
  );
  await site.site.posting.postAll();
  const stores = new Stores(site.site.database.pool, new Seal(new Uint8Array(32)), pino({ level: 'silent' }));
  const ledger = await openTagLedger(stores, { id: tag, store: 1 });
  await ledger.rows('SELECT 1', []);
  await site.query('DROP TABLE ledger_block_201501');
  const values: number[] = [];
  for await (const piece of ledger.pieces(first!, second! + 1, {
    ...EVERY_SAMPLE,
    neighbours: false,
    usesUncertain: true,
  })) {
    if (piece.kind === 'samples') values.push(...piece.frame.values);
  }
  await ledger.close();
  expect(values).toEqual([2]);
});

test('a month that gets its table in a batch leaves the other months of the batch where they are', async () => {
  const [few, many] = [await site.tag({ name: 'Few' }), await site.tag({ name: 'Many' })];
  const at = (month: number): number => Date.UTC(2003, month, 3) * 1000;
  const send = (sequence: number, tag: number, rows: readonly (readonly [number, number, number])[]) =>
    site.call('POST', '/entries', packEntry({ writer: 'few and many', sequence, origin: 'live' }, frameOf(tag, rows)));
  await send(1, few, [[at(0), 1, 0]]);
  await site.site.posting.postAll();
  await send(2, few, [[at(0) + SECOND, 2, 0]]);
  await send(
    3,
    many,
    Array.from({ length: 25_000 }, (_, i) => [at(5) + i * SECOND, i, 0] as const),
  );
  await site.site.posting.postAll();
  expect(
    await site.query('SELECT tag_id, part FROM ledger_month WHERE tag_id = ANY($1) ORDER BY 1', [[few, many]]),
  ).toEqual([
    { tag_id: few, part: 'rest' },
    { tag_id: many, part: '200306' },
  ]);
  const [count] = await site.query<{ n: number }>(
    "SELECT count(*)::int AS n FROM history.sample('Few', '2003-01-01Z', '2004-01-01Z')",
  );
  expect(count).toEqual({ n: 2 });
});

test('a month that one server gives a table is known to the other one', async () => {
  const beside = await site.beside();
  try {
    const [thin, dense] = [await site.tag({ name: 'Thin.beside' }), await site.tag({ name: 'Dense.beside' })];
    const start = Date.UTC(2004, 3, 3) * 1000;
    const send = (sequence: number, tag: number, rows: [number, number][]) =>
      site.entry({ writer: 'beside', sequence, origin: 'live' }, frameOf(tag, rows));
    await send(1, thin, [[start, 1]]);
    await site.site.posting.postAll();
    await send(2, thin, [[start + SECOND, 2]]);
    await beside.posting.postAll();
    await send(
      3,
      dense,
      Array.from({ length: 25_000 }, (_, i): [number, number] => [start + i * SECOND, i % 7]),
    );
    await site.site.posting.postAll();
    await send(4, thin, [[start + 2 * SECOND, 3]]);
    await beside.posting.postAll();
    const { body } = await site.call<{ samples: { value: number }[] }>(
      'GET',
      '/history/raw?tag=Thin.beside&from=2004-04-01T00:00:00Z&to=2004-05-01T00:00:00Z',
    );
    expect(body.samples.map(({ value }) => value)).toEqual([1, 2, 3]);
  } finally {
    await beside.close();
  }
});
