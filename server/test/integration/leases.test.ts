/** Whose turn it is to record a source that two collectors read, as the server decides it; on a clock of the test's own. */
import type { ConfiguredSource, LeaseOrder, Source, SourceState } from '@wide-ledger/contract';
import { SECOND } from '@wide-ledger/core';
import { Collectors } from '../../src/field/collectors/collectors.ts';
import { Leases } from '../../src/field/collectors/leases.ts';
import { SILENT_REPORT, TestSite } from './testSite.ts';

const START = 1_800_000_000_000;
let site: TestSite;
let now = START;
let collectors: Collectors;
let leases: Leases;
let source = 100;

const clock = (): number => now;
/** A server that began a while ago. */
function begin(): void {
  collectors = new Collectors(clock);
  leases = new Leases(site.site.database.pool, collectors, clock);
}

const stateOf = (over: Partial<SourceState>): SourceState =>
  ({
    source,
    state: 'watching',
    since: 0,
    sentence: '',
    code: null,
    troubles: [],
    faultyTags: 0,
    ...over,
  }) as SourceState;

/** A collector reports; what it is told of the source. */
async function report(name: string, over: Partial<SourceState> = {}): Promise<LeaseOrder | undefined> {
  const said = { ...SILENT_REPORT, name, sources: [stateOf(over)] } as unknown as Parameters<Leases['ordersFor']>[0];
  collectors.take(said);
  return (await leases.ordersFor(said))[0];
}

const watchedUntil = (until: number): Promise<unknown> =>
  site.query('INSERT INTO watch (source_id, version, origin, since, until) VALUES ($1, 1, 0, $2, $3)', [
    source,
    until - SECOND,
    until,
  ]);

beforeAll(async () => {
  site = await TestSite.open();
}, 60_000);
afterAll(() => site.close());
beforeEach(() => {
  source++;
  now += 100_000;
  begin();
  now += 60_000;
});

test('who reads a source alone is told nothing', async () => {
  expect(await report('a')).toBeUndefined();
});

test('of two the first that watches records, and keeps on', async () => {
  await report('a', { state: 'connecting' });
  expect(await report('b')).toEqual({ source, holds: true, epoch: 1, from: null, ready: false });
  expect(await report('a')).toEqual({ source, holds: false, epoch: 1, from: null, ready: true });
  now += 4000;
  expect(await report('b')).toMatchObject({ holds: true, epoch: 1, ready: true });
});

test('when the holder is gone, or away, another goes on from where the watch ended; what is open ends there', async () => {
  await report('a');
  await report('b');
  const until = now * 1000;
  await watchedUntil(until);
  await site.query(
    `INSERT INTO outage (source_id, tag_id, since, cause, sentence, recoverable, within_watch) VALUES ($1, 7, $2, 'tag', '', false, false)`,
    [source, until - SECOND],
  );
  now += 4999;
  expect(await report('b')).toMatchObject({ holds: false });
  now += 1;
  expect(await report('b')).toEqual({ source, holds: true, epoch: 2, from: until, ready: false });
  const [open] = await site.query<{ until: number }>('SELECT until FROM outage WHERE source_id = $1', [source]);
  expect(open).toEqual({ until });
  // It comes back as a standby, and takes over when the other loses the source.
  expect(await report('a')).toMatchObject({ holds: false, epoch: 2 });
  await report('b', { state: 'away' });
  expect(await report('a')).toMatchObject({ holds: true, epoch: 3 });
});

test('while nobody watches it stays where it is', async () => {
  await report('a');
  await report('b');
  await report('b', { state: 'away' });
  expect(await report('a', { state: 'away' })).toMatchObject({ holds: true, epoch: 1 });
  expect(await report('b', { state: 'away' })).toMatchObject({ holds: false, epoch: 1 });
});

test('who can read more of its tags takes over, when that lasts', async () => {
  await report('a');
  await report('b');
  await report('a', { faultyTags: 3 });
  expect(await report('b', { faultyTags: 1 })).toMatchObject({ holds: false });
  for (let seconds = 1; seconds < 10; seconds++) {
    now += 1000;
    await report('a', { faultyTags: 3 });
    expect(await report('b', { faultyTags: 1 })).toMatchObject({ holds: false });
  }
  now += 1000;
  await report('a', { faultyTags: 3 });
  expect(await report('b', { faultyTags: 1 })).toMatchObject({ holds: true, epoch: 2 });
  expect(await report('a', { faultyTags: 1 })).toMatchObject({ holds: false });
});

test('a server that was started anew knows whose turn it was, and waits for it for a moment', async () => {
  await report('a');
  await report('b');
  begin();
  expect(await report('b')).toMatchObject({ holds: false, epoch: 1 });
  now += 9000;
  expect(await report('b')).toMatchObject({ holds: false, epoch: 1 });
  now += 1000;
  expect(await report('b')).toMatchObject({ holds: true, epoch: 2 });
});

test('two that report at once are not both given the same', async () => {
  await report('a');
  now += 10_000;
  const orders = await Promise.all([report('b'), report('c')]);
  expect(orders.filter((order) => order?.holds)).toHaveLength(1);
});

test('a standby is told its own way and its own addresses, and only with a collector that it stands ready for', async () => {
  const connection = { host: '10.0.0.1', port: 502, unit: 1 };
  const address = { area: 'holding', address: 1, type: 'float32', order: 'ABCD' };
  const put = (more: object) =>
    site.call<{ detail: string }>('PUT', '/sources', { name: 'Two', kind: 'modbus-tcp', connection, ...more });
  expect((await put({ standby: 'b' })).body.detail).toContain('Name the collector that reads it, too');
  expect((await put({ collector: 'a', standby: 'a' })).body.detail).toContain('The standby is another collector');
  const standbyConnection = { ...connection, host: '10.0.0.2' };
  expect((await put({ collector: 'a', standby: 'b', standbyConnection })).status).toBe(200);
  const collection = { source: 'Two', address, standbyAddress: { ...address, address: 9 }, intervalMilliseconds: 1000 };
  await site.tag({ name: 'T', type: 'real', collection });
  const told = async (collector: string) => {
    const { body } = await site.call<{ sources: ConfiguredSource[] }>(
      'GET',
      `/collector/configuration?collector=${collector}`,
    );
    return body.sources.map(({ connection: by, tags }) => [
      (by as typeof connection).host,
      (tags[0]!.reading.address as typeof address).address,
    ]);
  };
  expect([await told('a'), await told('b'), await told('c')]).toEqual([[['10.0.0.1', 1]], [['10.0.0.2', 9]], []]);
  const { body } = await site.call<{ sources: Source[] }>('GET', '/sources');
  expect(body.sources[0]).toMatchObject({ standby: 'b', standbyConnection: { host: '10.0.0.2' }, readers: [] });
});

test('a source whose collector is gone is not said to be watched: it is away, with what to look at', async () => {
  begin();
  await report('first', { valuesPerSecond: 44, keptPerSecond: 40 });
  expect(collectors.stateOf(source).state).toMatchObject({ state: 'watching', valuesPerSecond: 44 });
  const heard = now;
  now += 240_000;
  expect(collectors.stateOf(source).state).toMatchObject({
    state: 'away',
    since: heard,
    code: 'COLLECTOR_ABSENT',
    sentence: expect.stringContaining('Collector first, which reads this source, has not reported since') as unknown,
    valuesPerSecond: 0,
    keptPerSecond: 0,
  });
  await report('second');
  expect(collectors.stateOf(source).state).toMatchObject({ state: 'watching' });
});
