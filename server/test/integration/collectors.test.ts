/** A source is read by the collector that it names: told to it alone, asked of it alone, and handed over whole. */
import type { AskedQuestion, CollectorConfiguration, ConfigurationChanges } from '@wide-ledger/contract';
import { SILENT_REPORT, TestSite } from './testSite.ts';

let site: TestSite;
const headers: Record<string, Record<string, string>> = {};
beforeAll(async () => {
  site = await TestSite.open();
  for (const collector of ['north', 'south']) {
    const body = { name: collector, scopes: ['collect'], collector };
    const { key } = (await site.call<{ key: string }>('POST', '/keys', body)).body;
    headers[collector] = { authorization: `Bearer ${key}`, cookie: '' };
  }
  for (const [name, collector] of [
    ['N', 'north'],
    ['S', 'south'],
    ['A', undefined],
  ] as const) {
    await site.call('PUT', '/sources', {
      name,
      kind: 'modbus-tcp',
      connection: { port: 5999 },
      ...(collector ? { collector } : {}),
    });
    await site.tag({ name: `${name}.1`, collection: { source: name, address: { area: 'holding', address: 0 } } });
  }
}, 60_000);
afterAll(() => site.close());

type Told = CollectorConfiguration & Partial<ConfigurationChanges>;
const told = async (collector: string, query = ''): Promise<Told> =>
  (
    await site.call<Told>(
      'GET',
      `/collector/configuration?collector=${collector}${query}`,
      undefined,
      headers[collector],
    )
  ).body;
const sourcesOf = ({ sources }: Told): string[] => sources.map(({ name }) => name).sort();

test('each collector is told of its own sources and of those that any may read', async () => {
  expect(sourcesOf(await told('north'))).toEqual(['A', 'N']);
  expect(sourcesOf(await told('south'))).toEqual(['A', 'S']);
  const foreign = await site.call('GET', '/collector/configuration?collector=north', undefined, headers.south);
  expect(foreign.status).toBe(403);
  // An older one, which does not say its name, is known by its key.
  const silent = await site.call<Told>('GET', '/collector/configuration', undefined, headers.south);
  expect(sourcesOf(silent.body)).toEqual(['A', 'S']);
});

test('of a tag that changed its own collector is told, and the other that it is none of its own', async () => {
  const before = { north: await told('north'), south: await told('south') };
  const { id } = (await site.call<{ id: number }>('GET', '/tags/N.1')).body;
  const changes = [{ kind: 'tag', id, set: { low: 0, high: 10 } }];
  const { draft } = (await site.call<{ draft: { id: number } }>('POST', '/drafts', { changes })).body;
  expect((await site.call('POST', `/drafts/${draft.id}/force`, { reason: 'its range' })).status).toBe(200);
  const since = ({ version, stamp }: Told): string => `&since=${version}&stamp=${encodeURIComponent(stamp)}`;
  const north = await told('north', since(before.north));
  const south = await told('south', since(before.south));
  expect(north.since).toBe(before.north.version);
  expect(north.tags!.map(({ id }) => id)).toHaveLength(1);
  expect([south.tags, south.gone]).toEqual([[], north.tags!.map(({ id }) => id)]);
});

test('a source that is handed over is told whole to the one that gets it, and is gone from the other', async () => {
  const before = { north: await told('north'), south: await told('south') };
  await site.call('PUT', '/sources', { name: 'N', kind: 'modbus-tcp', connection: { port: 5999 }, collector: 'south' });
  const since = ({ version, stamp }: Told): string => `&since=${version}&stamp=${encodeURIComponent(stamp)}`;
  const south = await told('south', since(before.south));
  expect(sourcesOf(south)).toEqual(['A', 'N', 'S']);
  const whole = south.sources.find(({ name }) => name === 'N') as { tags: { name: string }[] };
  expect(whole.tags.map(({ name }) => name)).toEqual(['N.1']);
  expect(sourcesOf(await told('north', since(before.north)))).toEqual(['A']);
});

test('the path to a source is walked by the collector that is to read it', async () => {
  const source = { name: 'X', kind: 'modbus-tcp', connection: { port: 5998 }, collector: 'north' };
  const checking = site.call<{ passed: boolean }>('POST', '/sources/check', source);
  const next = async (collector: string): Promise<AskedQuestion[]> =>
    (
      await site.call<{ questions: AskedQuestion[] }>(
        'GET',
        `/collector/questions?collector=${collector}&wait=300`,
        undefined,
        headers[collector],
      )
    ).body.questions;
  expect(await next('south')).toEqual([]);
  const [asked] = await next('north');
  expect(asked!.question).toMatchObject({ ask: 'check', source: { name: 'X' } });
  const check = { passed: true, rungs: [] };
  await site.call('POST', '/collector/answers', { request: asked!.request, says: 'check', check }, headers.north);
  expect((await checking).body).toEqual(check);
});

test('whatever a device says of itself, its collector is heard; only its own name has to be one that can be kept', async () => {
  const state = {
    source: 1,
    state: 'away',
    since: 0,
    sentence: 'The device says \0.',
    code: null,
    valuesPerSecond: 0,
    keptPerSecond: 0,
    timing: {},
    clockSkewMilliseconds: null,
    facts: [['Maker', '\0\ud800']],
  };
  const report = (name: string): Promise<{ status: number; body: { detail: string } }> =>
    site.call('POST', '/collector/report', { ...SILENT_REPORT, name, sources: [state] }, headers.north);
  expect((await report('north')).status).toBe(200);
  const refused = await report('north\0');
  expect([refused.status, refused.body.detail]).toEqual([400, expect.stringContaining('name')]);
});
