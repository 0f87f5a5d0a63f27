/** Links between two sites: invited, joined, carried once and in order; and what goes wrong between them. */
import type {
  Desk,
  Invitation,
  LinkNames,
  LinksAnswer,
  RawAnswer,
  SendingLink,
  TalliesAnswer,
} from '@wide-ledger/contract';
import { packEntry } from '@wide-ledger/core';
import { TestSite, frameOf } from './testSite.ts';
import { until } from './until.ts';

const near = await TestSite.open({ WIDE_LEDGER_SITE: 'Thornmere', WIDE_LEDGER_ZONE: 'Atlantic/Azores' });
const far = await TestSite.open({ WIDE_LEDGER_SITE: 'Emberfold Region' });
afterAll(async () => {
  await near.close();
  await far.close();
});

const START = Date.UTC(2026, 2, 1) * 1000;
const SECOND = 1_000_000;
const WINDOW = 'from=2026-01-01T00:00:00Z&to=2026-06-01T00:00:00Z';

const invite = async (site: TestSite, name: string): Promise<string> =>
  (await site.call<Invitation>('POST', '/links/invitations', { name })).body.code;
const links = async (site: TestSite): Promise<LinksAnswer> => (await site.call<LinksAnswer>('GET', '/links')).body;
const sending = async (name: string, site = near): Promise<SendingLink> =>
  (await links(site)).sending.find((link) => link.name === name)!;
const tallies = async (site: TestSite, tag: string): Promise<[number, string][]> =>
  (await site.call<TalliesAnswer>('GET', `/tallies?tag=${tag}&by=day&${WINDOW}`)).body.rows.map(({ count, tally }) => [
    count,
    tally,
  ]);
const waitUntil = (what: string, check: () => Promise<boolean> | boolean): Promise<void> =>
  until(what, check, async () => (await links(near)).sending);
/** Everything of a site's journal is acknowledged at the far end. */
const level = (name: string, site = near) =>
  waitUntil(`${name} is level`, async () => {
    const { waiting, state } = await sending(name, site);
    return waiting === 0 && state === 'level';
  });

let sequence = 0;
const deliver = (tag: number, first: number, count: number, of = near, value = (i: number): number => i) =>
  of.entry(
    { writer: 'w', sequence: ++sequence, origin: 'live' },
    frameOf(
      tag,
      Array.from({ length: count }, (_, i) => [START + (first + i) * SECOND, value(first + i)]),
    ),
  );

const flow = await near.tag({
  name: 'TW-FT-101',
  unit: 'm³/h',
  place: 'Thornmere Wells / Well 1',
  description: 'flow',
});
const state = await near.tag({
  name: 'TW-XV-1',
  type: 'state',
  states: { 0: 'shut', 1: 'open' },
  place: 'Thornmere Wells',
});
const other = await near.tag({ name: 'Other', place: 'Elsewhere' });
await deliver(flow, 0, 10);

test('names are seen side by side before anything is carried, and a site joins once by a code', async () => {
  const naming = { rules: [{ kind: 'prefix', text: 'TH.' }], single: { 'TW-XV-1': 'TH.TW-FT-101' } };
  const carries = [{ search: '', place: 'Thornmere Wells' }];
  const { body: names } = await near.call<LinkNames>('POST', '/links/names', { carries, naming });
  expect(names).toMatchObject({ tags: 2, problems: 2, renamed: 2 });
  expect(names.rows[0]!.problem).toMatch(/would be called TH\.TW-FT-101, too\./);

  const code = await invite(far, 'North');
  expect((await links(far)).arriving).toMatchObject([{ name: 'North', state: 'invited', site: null }]);
  const link = { name: 'Region', url: far.site.url, code, carries, naming: { rules: naming.rules, single: {} } };
  const wrong = await near.call<{ detail: string }>('POST', '/links', { ...link, code: 'wli_x' });
  expect([wrong.status, wrong.body.detail]).toEqual([400, expect.stringContaining('This code is not known here')]);
  const self = await near.call<{ detail: string }>('POST', '/links', {
    ...link,
    url: near.site.url,
    code: await invite(near, 'Me'),
  });
  expect([self.status, self.body.detail]).toEqual([400, expect.stringContaining('the site itself')]);
  const nobody = await near.call<{ detail: string }>('POST', '/links', { ...link, url: 'http://127.0.0.1:1' });
  expect([nobody.status, nobody.body.detail]).toEqual([400, expect.stringContaining('127.0.0.1:1')]);
  expect((await near.call<SendingLink>('POST', '/links', link)).status).toBe(201);
  const again = await near.call<{ detail: string }>('POST', '/links', { ...link, name: 'Twice' });
  expect([again.status, again.body.detail]).toEqual([400, expect.stringContaining('was used already')]);
  await level('Region');
  expect((await links(far)).arriving).toMatchObject([
    { name: 'North', state: 'never sent anything', site: { name: 'Thornmere' }, tags: 2 },
  ]);
});

test('the far end knows how the site is that carries there, and by what clock people live there', async () => {
  await waitUntil('it was told', async () => (await links(far)).arriving[0]!.account !== null);
  expect((await links(far)).arriving[0]!.account).toMatchObject({
    zone: 'Atlantic/Azores',
    tags: 3,
    sources: 0,
    away: 0,
    concerns: expect.any(Array) as unknown,
  });
  expect((await far.call<Desk>('GET', '/desk')).body.zones).toEqual(['Atlantic/Azores']);
  expect((await near.call<Desk>('GET', '/desk')).body.zones).toEqual([]);
});

test('what comes from now on is carried, with what it is: late values, corrections, removals, and who made them', async () => {
  await deliver(flow, 100, 50);
  await deliver(state, 100, 5, near, (i) => i % 2);
  await deliver(other, 100, 5);
  // Late, corrected and removed.
  await deliver(flow, 20, 10);
  const time = (second: number): string => new Date((START + second * SECOND) / 1000).toISOString();
  await near.call('POST', '/history/corrections', {
    tag: 'TW-FT-101',
    reason: 'drift',
    samples: [{ time: time(105), value: -1 }],
  });
  await near.call('POST', '/history/removals', { tag: 'TW-FT-101', reason: 'test', from: time(110), to: time(112) });
  await level('Region');
  const raw = async (site: TestSite, tag: string) =>
    (await site.call<RawAnswer>('GET', `/history/raw?tag=${tag}&from=${time(20)}&to=${time(200)}`)).body.samples;
  expect(await raw(far, 'TH.TW-FT-101')).toEqual(await raw(near, 'TW-FT-101'));
  expect(await tallies(far, 'TH.TW-XV-1')).toEqual(await tallies(near, 'TW-XV-1'));
  expect((await far.call('GET', '/tags/TH.Other')).status).toBe(404);
  const { body: tag } = await far.call<{ unit: string; place: string; description: string }>(
    'GET',
    '/tags/TH.TW-FT-101',
  );
  expect(tag).toMatchObject({ unit: 'm³/h', place: 'Thornmere Wells / Well 1', description: 'flow' });
  await far.site.posting.postAll();
  const { body: old } = await far.call<{ samples: { modifiedBy: string; reason: string | null; kind: string }[] }>(
    'GET',
    `/history/modified?tag=TH.TW-FT-101&from=${time(100)}&to=${time(200)}`,
  );
  expect(old.samples).toMatchObject([
    { kind: 'replaced', modifiedBy: 'Thornmere: admin', reason: 'drift' },
    { kind: 'removed', modifiedBy: 'Thornmere: admin', reason: 'test' },
    { kind: 'removed', modifiedBy: 'Thornmere: admin', reason: 'test' },
  ]);
  expect(await sending('Region')).toMatchObject({
    samples: 68,
    setAside: 0,
    trouble: null,
    tags: 2,
    farName: 'Emberfold Region',
  });
});

test('a tag that comes to be chosen is carried from then on; one that is renamed keeps its history there', async () => {
  const late = await near.tag({ name: 'TW-PT-9', place: 'Thornmere Wells / Well 9' });
  await deliver(late, 0, 3);
  await level('Region');
  const { body: draft } = await near.call<{ draft: { id: number } }>('POST', '/drafts', {
    changes: [{ kind: 'tag', id: late, set: { name: 'TW-PT-90', unit: 'bar' } }],
  });
  await near.call('POST', `/drafts/${draft.draft.id}/force`, { reason: 'Renamed' });
  await deliver(late, 3, 3);
  await level('Region');
  expect((await far.call('GET', '/tags/TH.TW-PT-90')).body).toMatchObject({ unit: 'bar' });
  // Whoever asks by the old name is answered with the new one.
  expect((await far.call('GET', '/tags/TH.TW-PT-9')).body).toMatchObject({ name: 'TH.TW-PT-90' });
  expect(await tallies(far, 'TH.TW-PT-90')).toEqual(await tallies(near, 'TW-PT-90'));
});

test('a tag that the far end cannot take is refused with the reason; the others are carried', async () => {
  await far.tag({ name: 'TH.TW-TT-5', type: 'text' });
  const clash = await near.tag({ name: 'TW-TT-5', place: 'Thornmere Wells' });
  await deliver(clash, 0, 3);
  await level('Region');
  expect((await sending('Region')).refused).toMatchObject([
    { tag: 'TW-TT-5', farName: 'TH.TW-TT-5', reason: expect.stringContaining('is text there, and real here') },
  ]);
});

let tank = 0;

test('what comes now goes before what waits, where that is wished, and both ends are equal in the end', async () => {
  tank = await near.tag({ name: 'TW-LT-7', place: 'Thornmere Wells' });
  const { id } = await sending('Region');
  const change = async (terms: object): Promise<void> => {
    expect((await near.call('PATCH', `/links/${id}`, terms)).status).toBe(200);
  };
  await change({ paused: true });
  await waitUntil('it is paused', async () => (await sending('Region')).state === 'paused');
  // A backlog that takes minutes at so narrow a line.
  for (let part = 0; part < 10; part++) await deliver(tank, 10_000 + part * 2_000, 2_000, near, (i) => Math.sin(i) * i);
  const limits = [{ from: '00:00', to: '00:00', kilobytesPerSecond: 2 }];
  await change({ paused: false, liveFirst: true, limits });
  await waitUntil('it catches up', async () => (await sending('Region')).state === 'carrying');
  await deliver(tank, 50_000, 1);
  const at = (second: number): string => new Date((START + second * SECOND) / 1000).toISOString();
  const there = async (): Promise<number> =>
    (await far.call<RawAnswer>('GET', `/history/raw?tag=TH.TW-LT-7&from=${at(50_000)}&to=${at(50_001)}`)).body.samples
      .length;
  await waitUntil('what came last is there', async () => (await there()) === 1);
  expect((await sending('Region')).waiting).toBeGreaterThan(2_000);
  await change({ limits: [], liveFirst: false });
  await level('Region');
  expect(await tallies(far, 'TH.TW-LT-7')).toEqual(await tallies(near, 'TW-LT-7'));
});

test('a link goes on by the second address of the same site when the first does not answer, and says which it uses', async () => {
  const { id, url } = await sending('Region');
  const other = await far.beside();
  const use = (body: object) => near.call('PATCH', `/links/${id}`, body);
  expect((await use({ url: other.url, secondUrl: url })).status).toBe(200);
  await waitUntil('it uses the first', async () => (await sending('Region')).inUse === other.url);
  await deliver(tank, 60_000, 100);
  await level('Region');
  await other.close();
  await deliver(tank, 60_100, 100);
  await waitUntil('it uses the second', async () => (await sending('Region')).inUse === url);
  await level('Region');
  expect(await tallies(far, 'TH.TW-LT-7')).toEqual(await tallies(near, 'TW-LT-7'));
  expect((await use({ url, secondUrl: '' })).status).toBe(200);
  expect((await sending('Region')).inUse).toBeNull();
  await level('Region');
});

test('sent twice, out of order or by a stranger, nothing is added and it is said why', async () => {
  const before = await tallies(far, 'TH.TW-FT-101');
  const stretch = { epoch: 0, after: 0, position: 5, print: 'x' };
  const frame = frameOf(1, [[START + 999 * SECOND, 5]]);
  const carried = { writer: 'w', origin: 'live', reason: null, via: [] };
  const head = packEntry(stretch, null);
  const entry = packEntry(carried, frame);
  const { packBundle } = await import('@wide-ledger/core');
  const refused = await far.call<{ detail: string }>('POST', '/carry/entries', packBundle([head, entry]));
  expect([refused.status, refused.body.detail]).toEqual([
    403,
    expect.stringContaining('Only the key of a link carries'),
  ]);
  const code = await invite(far, 'By hand');
  const card = { identity: 'by-hand', name: 'By hand', version: '0' };
  const { body: joined } = await far.call<{ key: string }>('POST', '/links/join', { code, site: card });
  const key = { authorization: `Bearer ${joined.key}`, cookie: '' };
  const tag = {
    name: 'Hand',
    type: 'real',
    unit: '',
    description: '',
    place: '',
    stepped: false,
    low: null,
    high: null,
    states: null,
  };
  // What comes by one link does not come by another.
  const told = await far.call<{ results: { refused: string | null }[] }>(
    'PUT',
    '/carry/tags',
    {
      tags: [
        { ...tag, number: 1 },
        { ...tag, number: 2, name: 'TH.TW-FT-101' },
      ],
    },
    key,
  );
  expect(told.body.results.map(({ refused: why }) => why)).toEqual([
    null,
    expect.stringContaining('comes there by the link North already'),
  ]);
  const send = (after: number, position: number) =>
    far.call<{ accepted: number; code: string }>(
      'POST',
      '/carry/entries',
      packBundle([packEntry({ ...stretch, after, position }, null), entry]),
      key,
    );
  expect((await send(3, 5)).body.code).toBe('ELSEWHERE');
  expect((await send(0, 5)).body.accepted).toBe(1);
  expect((await send(0, 5)).body.code).toBe('ELSEWHERE');
  // Two that go on at one place at the same moment: one does.
  const both = await Promise.all([send(5, 9), send(5, 9)]);
  expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  for (const bad of [
    new Uint8Array(3),
    packBundle([]),
    packBundle([entry]),
    packBundle([head, packEntry(carried, null)]),
  ])
    expect((await far.call('POST', '/carry/entries', bad, key)).status).toBe(400);
  expect((await far.call('GET', '/tags', undefined, key)).status).toBe(403);
  expect(await tallies(far, 'TH.TW-FT-101')).toEqual(before);
  expect(await tallies(far, 'Hand')).toMatchObject([[1, expect.any(String)]]);
});

test('a far end that restarts, or is away, is carried to when it is back; nothing is missing or doubled', async () => {
  await deliver(flow, 1000, 100);
  await far.restart();
  await deliver(flow, 1100, 100);
  // It has another port now, as a site may have another address.
  const { id } = await sending('Region');
  const { body: draft } = await near.call<{ draft: { id: number } }>('POST', '/drafts', {
    changes: [{ kind: 'link', id, set: { url: far.site.url } }],
  });
  expect((await near.call('POST', `/drafts/${draft.draft.id}/force`, { reason: 'Moved' })).status).toBe(200);
  await level('Region');
  await near.restart();
  await deliver(flow, 1200, 100);
  await level('Region');
  expect((await tallies(far, 'TH.TW-FT-101')).at(-1)![0]).toBe((await tallies(near, 'TW-FT-101')).at(-1)![0] - 10);
});

test('a ring of links ends: what came from a site is not carried back to it', async () => {
  const code = await invite(near, 'Back');
  const back = {
    name: 'Back',
    url: near.site.url,
    code,
    carries: [{ search: '', place: '' }],
    naming: { rules: [{ kind: 'prefix', text: 'B.' }], single: {} },
  };
  expect((await far.call<SendingLink>('POST', '/links', back)).status).toBe(201);
  await level('Back', far);
  await deliver(flow, 5000, 10);
  const own = await far.tag({ name: 'Own', place: 'Region' });
  await far.entry({ writer: 'r', sequence: 1, origin: 'live' }, frameOf(own, [[START, 1]]));
  await level('Region');
  await level('Back', far);
  expect(await tallies(near, 'B.Own')).toEqual(await tallies(far, 'Own'));
  expect(await tallies(near, 'B.TH.TW-FT-101')).toEqual([]);
});

test('a journal that was restored is known again: its new entries are carried although their numbers are old', async () => {
  await level('Region');
  const [{ last }] = (await near.query<{ last: number }>('SELECT journal_last() AS last')) as [{ last: number }];
  // An entry without values waits, too, though no value does.
  await waitUntil('all of the journal is acknowledged', async () => {
    const [link] = await near.query<{ position: number }>('SELECT min(position) AS position FROM link_state');
    return link!.position === last;
  });
  // As a backup of some entries ago: its newest entries never were.
  await near.site.posting.postAll();
  await near.query('DELETE FROM journal_entry WHERE id > $1', [last - 2]);
  await near.query("SELECT setval('journal_entry_id', $1)", [last - 2]);
  await near.query('UPDATE posting SET entry = $1', [last - 2]);
  await near.query('UPDATE link_state SET position = least(position, $1)', [last - 2]);
  await near.restart();
  await deliver(flow, 9000, 7);
  await level('Region');
  const raw = async (site: TestSite, tag: string) =>
    (
      await site.call<RawAnswer>(
        'GET',
        `/history/raw?tag=${tag}&from=${new Date((START + 9000 * SECOND) / 1000).toISOString()}&to=2026-03-02T00:00:00Z`,
      )
    ).body.samples;
  expect(await raw(far, 'TH.TW-FT-101')).toHaveLength(7);
  expect((await far.query<{ epoch: number }>("SELECT epoch FROM arrival WHERE name = 'North'"))[0]!.epoch).toBe(1);
});

test('a key that is revoked is said at both ends, and a new invitation goes on where the link was', async () => {
  const { body } = await far.call<{ keys: { id: number; name: string }[] }>('GET', '/keys');
  await far.call('DELETE', `/keys/${body.keys.find(({ name }) => name === 'link North')!.id}`);
  await deliver(flow, 20_000, 5);
  await waitUntil(
    'it is said',
    async () => (await sending('Region')).trouble?.includes('does not know the key') ?? false,
  );
  expect((await links(far)).arriving.find(({ name }) => name === 'North')!.state).toBe('revoked');
  // By the same name it is the same link.
  const { id } = await sending('Region');
  const other = await near.call<{ detail: string }>('PATCH', `/links/${id}`, { code: 'wli_x' });
  expect([other.status, other.body.detail]).toEqual([400, expect.stringContaining('not known here')]);
  expect((await near.call('PATCH', `/links/${id}`, { code: await invite(far, 'North') })).status).toBe(200);
  await level('Region');
  expect((await tallies(far, 'TH.TW-FT-101')).at(-1)![0]).toBe((await tallies(near, 'TW-FT-101')).at(-1)![0] - 10);
});

test('a link that is paused carries nothing, and all of it when it goes on', async () => {
  const { id } = await sending('Region');
  expect((await near.call('PATCH', `/links/${id}`, { paused: true })).body).toMatchObject({ state: 'paused' });
  const before = await tallies(far, 'TH.TW-FT-101');
  await deliver(flow, 30_000, 50);
  expect(await sending('Region')).toMatchObject({ state: 'paused', waiting: 50 });
  await near.call('PATCH', `/links/${id}`, { paused: false });
  await level('Region');
  expect((await tallies(far, 'TH.TW-FT-101')).at(-1)![0]).toBe(before.at(-1)![0] + 50);
  expect((await near.call('PATCH', '/links/99', { paused: true })).status).toBe(404);
});

test('a site that was restored gives no number of a tag a second time', async () => {
  const lost = await near.tag({ name: 'Lost', place: 'Thornmere Wells' });
  await deliver(lost, 0, 5);
  await level('Region');
  // As a backup from before that tag: the numbers of the link are forgotten with it.
  await near.query('DELETE FROM link_tag WHERE tag_id = $1', [lost]);
  const fresh = await near.tag({ name: 'Fresh', place: 'Thornmere Wells' });
  await near.restart();
  await deliver(fresh, 0, 3, near, () => 7);
  await deliver(lost, 5, 2);
  await level('Region');
  expect(await tallies(far, 'TH.Lost')).toEqual(await tallies(near, 'Lost'));
  expect(await tallies(far, 'TH.Fresh')).toEqual(await tallies(near, 'Fresh'));
});

test('a limit holds back: what was sent is waited for as long as it takes at that rate', async () => {
  const { id } = await sending('Region');
  const kilobytesPerSecond = 20;
  const limits = [{ from: '00:00', to: '00:00', kilobytesPerSecond }];
  expect((await near.call('PATCH', `/links/${id}`, { limits })).status).toBe(200);
  await level('Region');
  const { bytes: before } = await sending('Region');
  const began = performance.now();
  // What cannot be packed, so that it takes its time.
  await deliver(flow, 40_000, 5_000, near, () => Math.random());
  await waitUntil('the first is there', async () => (await sending('Region')).waiting === 0);
  const bytes = (await sending('Region')).bytes - before;
  expect(bytes).toBeGreaterThan(20_000);
  await deliver(flow, 50_000, 1);
  await level('Region');
  expect(performance.now() - began).toBeGreaterThanOrEqual(bytes / kilobytesPerSecond);
  expect((await near.call('PATCH', `/links/${id}`, { limits: [] })).status).toBe(200);
});
