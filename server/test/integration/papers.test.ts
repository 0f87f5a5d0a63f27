/** What goes over a link beside values: what was watched, what people said and wrote, what was changed of definitions. */
import type {
  AnnotationsAnswer,
  CoverageAnswer,
  DraftEdited,
  GapsAnswer,
  Invitation,
  LinksAnswer,
  ReconcilingReport,
  TagChanges,
} from '@wide-ledger/contract';
import { DAY, HOUR, formatInstant } from '@wide-ledger/core';
import { freePort } from '../../../launch/ground.mjs';
import { TestSite, frameOf } from './testSite.ts';
import { until } from './until.ts';

const near = await TestSite.open({ WIDE_LEDGER_SITE: 'Thornmere' });
const far = await TestSite.open({
  WIDE_LEDGER_SITE: 'Emberfold Region',
  // The same again when it was restarted.
  WIDE_LEDGER_PORT: String(await freePort()),
});
afterAll(async () => {
  await near.close();
  await far.close();
});

/** The days before today, all of it over. */
const START = Math.floor((Date.now() * 1000) / DAY) * DAY - 3 * DAY;
const at = (hour: number): number => START + hour * HOUR;
const instant = (hour: number): string => formatInstant(at(hour));
const WINDOW = `from=${instant(0)}&to=${instant(48)}`;
let sequence = 0;

const connection = { host: '127.0.0.1', port: 1, unit: 1, timeoutMilliseconds: 1000 };
const source = (await near.call<{ id: number }>('PUT', '/sources', { name: 'Wells', kind: 'modbus-tcp', connection }))
  .body.id;
const make = (name: string, address: number): Promise<number> =>
  near.tag({
    name,
    type: 'real',
    place: 'Wells',
    inForceSince: instant(0),
    collection: { source: 'Wells', address: { area: 'holding', address } },
  });
const flow = await make('FT-1', 1);
const level = await make('LT-1', 2);
const say = (what: object, hours: readonly number[] = []) =>
  near.entry(
    { writer: 'w', sequence: ++sequence, origin: 'live', watches: [], outages: [], ...what },
    hours.length === 0
      ? null
      : frameOf(
          flow,
          hours.map((hour) => [at(hour), hour]),
        ),
  );
const gone = { cause: 'source', sentence: 'It was off.', code: 'OFF', recoverable: true, source } as const;

const gapsAt = async (site: TestSite, more = ''): Promise<GapsAnswer['gaps']> =>
  (await site.call<GapsAnswer>('GET', `/gaps?${WINDOW}${more}`)).body.gaps;
/** Gaps without what is named otherwise at the far end. */
const plain = (gaps: GapsAnswer['gaps']) =>
  gaps.map(({ source: _source, explained, recoverable: _recoverable, ...gap }) => ({
    ...gap,
    tag: gap.tag?.replace('TH.', '') ?? null,
    explained: explained?.reason ?? null,
  }));
const stateOfLink = async () => (await near.call<LinksAnswer>('GET', '/links')).body.sending;
const same = (what: string, check: () => Promise<boolean>) => until(what, check, stateOfLink);
const equalGaps = (): Promise<void> =>
  same('both ends know of the same gaps', async () => {
    const [here, there] = [plain(await gapsAt(near)), plain(await gapsAt(far))];
    return here.length > 0 && JSON.stringify(here) === JSON.stringify(there);
  });

test('a link that was made before the first value tells of all that was watched, and how it is with each gap', async () => {
  const code = (await far.call<Invitation>('POST', '/links/invitations', { name: 'Thornmere' })).body.code;
  const link = {
    name: 'Region',
    url: far.site.url,
    code,
    naming: { rules: [{ kind: 'prefix', text: 'TH.' }], single: {} },
  };
  expect((await near.call('POST', '/links', link)).status).toBe(201);
  await say(
    {
      watches: [
        { source, version: 1, from: at(0), to: at(30) },
        { source, version: 1, from: at(36), to: at(48) },
      ],
      outages: [
        { ...gone, tag: null, from: at(30), to: at(36) },
        { ...gone, cause: 'tag', tag: level, from: at(40), to: at(41), within: true },
      ],
    },
    [1, 2, 25, 40],
  );
  const said = { source: 'Wells', from: instant(30), to: instant(36), reason: 'A fuse was replaced.' };
  expect((await near.call('POST', '/gaps/explanations', said)).status).toBe(201);
  await equalGaps();
  const gaps = await gapsAt(far);
  expect(gaps.map((gap) => [gap.source, gap.tag, gap.from, gap.to, gap.sentence, gap.explained])).toEqual([
    ['Thornmere: Wells', 'TH.LT-1', instant(40), instant(41), 'It was off.', null],
    [
      'Thornmere: Wells',
      null,
      instant(30),
      instant(36),
      'It was off.',
      { by: 'Thornmere: admin', reason: 'A fuse was replaced.' },
    ],
  ]);
  // The strip of a tag, and of its source, at the far end.
  const { rows } = (await far.call<CoverageAnswer>('GET', `/coverage?${WINDOW}&tag=TH.FT-1`)).body;
  expect(rows).toMatchObject([{ source: 'Thornmere: Wells', tag: 'TH.FT-1', watchedPercent: 87.5 }]);
  expect(rows[0]!.estimate).toBeUndefined();
  // It can be asked for by SQL, too, and by its name.
  const views = await far.query<{ source: string }>(
    "SELECT source FROM history.gap WHERE tag IS NULL AND sentence = 'It was off.'",
  );
  expect(views).toEqual([{ source: 'Thornmere: Wells' }]);
  const story = await far.call<{ events: { told: string }[] }>(
    'GET',
    `/gaps/story?source=${encodeURIComponent('Thornmere: Wells')}&from=${instant(30)}&to=${instant(36)}`,
  );
  expect(story.body.events.map(({ told }) => told)).toEqual(expect.arrayContaining(['outage', 'end', 'explanation']));
});

test('what becomes of a gap later is known at the far end, and what was said is taken back where it was said', async () => {
  await say(
    { origin: 'backfilled', recoveries: [{ source, tag: null, from: at(30), to: at(33), outcome: 'recovered' }] },
    [31, 32],
  );
  const { explanations } = (await far.call<{ explanations: { id: number }[] }>('GET', `/gaps/explanations?${WINDOW}`))
    .body;
  const refused = await far.call<{ detail: string }>('DELETE', `/gaps/explanations/${explanations[0]!.id}`);
  expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('take it back there')]);
  const here = (await near.call<{ explanations: { id: number }[] }>('GET', `/gaps/explanations?${WINDOW}`)).body;
  expect((await near.call('DELETE', `/gaps/explanations/${here.explanations[0]!.id}`)).status).toBe(204);
  await same('the gap is shorter there', async () => {
    const [gap] = (await gapsAt(far)).filter(({ tag }) => tag === null);
    return gap?.from === instant(33) && gap.explained === null;
  });
  await equalGaps();
});

test('annotations come along, are taken away along, and stand beside those of the far end', async () => {
  const write = (site: TestSite, tag: string, text: string) =>
    site.call<{ id: number }>('POST', '/annotations', { tag, time: instant(2), text });
  const written = await write(near, 'FT-1', 'meter exchanged');
  await write(far, 'TH.FT-1', 'seen in the region');
  const texts = async (): Promise<string[][]> =>
    (await far.call<AnnotationsAnswer>('GET', `/annotations?tags=TH.FT-1&${WINDOW}`)).body.annotations.map(
      ({ text, writtenBy }) => [text, writtenBy],
    );
  await same('it is there', async () => (await texts()).length === 2);
  expect((await texts()).sort()).toEqual([
    ['meter exchanged', 'Thornmere: admin'],
    ['seen in the region', 'admin'],
  ]);
  const [carried] = (
    await far.call<AnnotationsAnswer>('GET', `/annotations?tags=TH.FT-1&${WINDOW}`)
  ).body.annotations.filter(({ writtenBy }) => writtenBy !== 'admin');
  expect((await far.call('DELETE', `/annotations/TH.FT-1/${carried!.id}`)).status).toBe(409);
  expect((await near.call('DELETE', `/annotations/FT-1/${written.body.id}`)).status).toBe(204);
  await same('it is gone there', async () => (await texts()).length === 1);
  expect(await texts()).toEqual([['seen in the region', 'admin']]);
});

test('what was changed of a definition is told with who and why, at both ends', async () => {
  const change = async (high: number, reason: string): Promise<void> => {
    const changes = [{ kind: 'tag', id: flow, set: { high } }];
    const { draft } = (await near.call<DraftEdited>('POST', '/drafts', { changes })).body;
    expect((await near.call('POST', `/drafts/${draft!.id}/force`, { reason })).status).toBe(200);
  };
  await change(250, 'range after calibration');
  const changes = async (site: TestSite, tag: string) =>
    (await site.call<TagChanges>('GET', `/tags/${tag}/changes`)).body.changes;
  const expected = { by: 'admin', reason: 'range after calibration', fields: [{ to: '250' }] };
  expect(await changes(near, 'FT-1')).toMatchObject([{ ...expected, site: null }]);
  await same('it was told', async () => (await changes(far, 'TH.FT-1')).some(({ site }) => site !== null));
  const there = await changes(far, 'TH.FT-1');
  expect(there.find(({ site }) => site === 'Thornmere')).toMatchObject(expected);
  // That it was made so there is a change of the far end’s own.
  expect(there.find(({ site }) => site === null)).toMatchObject({ by: 'link Thornmere', fields: [{ to: '250' }] });
});

test('a past that was not carried is not told of as watched, until both ends were found equal', async () => {
  const older = await make('AT-1', 3);
  await near.entry(
    { writer: 'w', sequence: ++sequence, origin: 'live', watches: [], outages: [] },
    frameOf(older, [[at(5), 1]]),
  );
  const code = (await far.call<Invitation>('POST', '/links/invitations', { name: 'Again' })).body.code;
  const link = {
    name: 'Second',
    url: far.site.url,
    code,
    carries: [{ search: 'AT-1', place: '' }],
    naming: { rules: [{ kind: 'prefix', text: 'SECOND.' }], single: {} },
  };
  expect((await near.call('POST', '/links', link)).status).toBe(201);
  const second = async () => (await stateOfLink()).find(({ name }) => name === 'Second')!;
  await same('the second link is level', async () => (await second()).state === 'level');
  await same(
    'it told of its source',
    async () =>
      (
        await far.query(
          "SELECT FROM arriving_paper p JOIN arrival a ON a.id = p.arrival_id WHERE a.name = 'Again' AND kind = 'source'",
        )
      ).length > 0,
  );
  const duty = async () =>
    (await far.call<CoverageAnswer>('GET', `/coverage?${WINDOW}&tag=SECOND.AT-1`)).body.rows.filter(
      (row) => row.duty.length > 0,
    );
  expect(await duty()).toEqual([]);
  const { job } = (
    await near.call<{ job: number }>('POST', `/links/${(await second()).id}/reconcile`, {
      from: instant(0),
      to: instant(48),
      repair: 'there',
    })
  ).body;
  await near.jobsDone('reconcile');
  const done = await near.call<{ report: ReconcilingReport }>('GET', `/jobs/${job}`);
  expect(done.body.report).toMatchObject({ equal: true, repaired: 1 });
  await same('it is told of as watched', async () => (await duty()).length === 1);
  expect(await duty()).toMatchObject([{ duty: [{ from: instant(0), to: instant(48) }], watchedPercent: 93.75 }]);
});

test('a source that is away at its site is known to be so at the far end, and what is on its way is not missing', async () => {
  const lately = async () =>
    (await far.call<GapsAnswer>('GET', '/gaps?from=now-1h&to=now&tag=TH.FT-1')).body.gaps.map(
      ({ sentence }) => sentence,
    );
  // It was watched up to a day ago, as far as is known: the rest may come.
  expect(await lately()).toEqual([]);
  const since = { ...gone, tag: null, from: at(48), to: null };
  await say({ outages: [since] });
  await same('it is away', async () => (await lately()).length > 0);
  expect(await lately()).toEqual(['It was off.']);
  const now = Date.now() * 1000;
  await say({ outages: [{ ...since, to: now }], watches: [{ source, version: 1, from: now, to: now + 1000 }] });
  await same('it is over', async () => (await lately()).length === 1);
  expect(await lately()).toEqual(['It was off.']);
});

test('a far end that was restored from a backup is told again what it has forgotten', async () => {
  await far.query("DELETE FROM arriving_paper WHERE kind = 'day'");
  await far.query('DELETE FROM watch WHERE source_id < 0');
  await far.query('DELETE FROM outage WHERE source_id < 0');
  await far.query("UPDATE arrival SET position = 0, print = '' WHERE name = 'Thornmere'");
  await far.restart();
  await say({}, [47]);
  const ofFlow = async (site: TestSite, tag: string) => JSON.stringify(plain(await gapsAt(site, `&tag=${tag}`)));
  await same('it is told again', async () => (await ofFlow(far, 'TH.FT-1')) === (await ofFlow(near, 'FT-1')));
});

test('what does not lie in its day, or is of no tag of the link, is left', async () => {
  const code = (await far.call<Invitation>('POST', '/links/invitations', { name: 'Strange' })).body.code;
  const site = { identity: 'strange', name: 'Strange', version: '0' };
  const { key } = (await far.call<{ key: string }>('POST', '/links/join', { code, site })).body;
  const carry = (papers: readonly object[]) =>
    far.call<{ detail: string }>('PUT', '/carry/papers', { papers }, { authorization: `Bearer ${key}`, cookie: '' });
  const own = { kind: 'source', number: 3, print: 'a', name: 'S', duty: [[START, null]], explanations: [] };
  const day = { kind: 'day', number: 3, print: 'b', day: START, recoveries: [] };
  const outage = { cause: 'source', sentence: '', code: null, recoverable: false, within: false };
  const watch = (from: number, to: number) => ({ origin: 'live', from, to });
  const taken = await carry([
    // Numbers of tags that this link has not told of: those of others are not its own.
    { ...own, tags: [{ numbers: [1, 2, 3], duty: [[START, null]] }] },
    {
      ...day,
      watches: [watch(START, START + 1), watch(START - 5, START + 1), watch(START + 1, START + DAY + 1)],
      outages: [
        { ...outage, number: 0, from: START + DAY, to: null },
        { ...outage, number: 7, from: START, to: null },
      ],
    },
    { ...day, day: START + 30 * DAY, watches: [watch(START + 30 * DAY, START + 30 * DAY + 1)], outages: [] },
  ]);
  expect(taken.status).toBe(204);
  const [{ id } = { id: 0 }] = await far.query<{ id: number }>("SELECT id FROM named_source WHERE name = 'Strange: S'");
  expect(id).toBeLessThan(0);
  const count = async (table: string) => (await far.query(`SELECT FROM ${table} WHERE source_id = ${id}`)).length;
  expect([await count('watch'), await count('outage'), await count('duty')]).toEqual([1, 0, 0]);
  // The same again stands once.
  await carry([{ ...day, watches: [watch(START, START + 1)], outages: [] }]);
  expect(await count('watch')).toBe(1);
  expect((await carry([{ ...own, tags: 'all' }])).status).toBe(400);
});

test('while nothing is heard of a site it is not known there what was watched, and said so', async () => {
  const [link] = await stateOfLink();
  expect((await near.call('PATCH', `/links/${link!.id}`, { paused: true })).status).toBe(200);
  await same('it is paused', async () => (await stateOfLink())[0]!.state === 'paused');
  await far.query("UPDATE arrival SET contact_at = now() - interval '1 minute'");
  // What it had told of this hour lies in the same gap, and is the longer part of it.
  await far.query('DELETE FROM outage WHERE source_id < 0');
  await far.query(`DELETE FROM watch WHERE source_id < 0 AND since > ${at(48)}`);
  const { gaps } = (await far.call<GapsAnswer>('GET', '/gaps?from=now-1h&to=now&tag=TH.FT-1')).body;
  expect(gaps).toMatchObject([
    { cause: 'link', state: 'open', sentence: 'Nothing is heard of Thornmere: the link Thornmere is silent.' },
  ]);
  // Whose key was revoked is not missed any more.
  await far.query("UPDATE access_key SET revoked_at = now() WHERE name = 'link Thornmere'");
  const after = await far.call<GapsAnswer>('GET', '/gaps?from=now-1h&to=now&tag=TH.FT-1');
  // Nobody watched there, which was told; and from its last word on it is nobody's concern.
  expect(after.body.gaps.map(({ cause }) => cause)).toEqual(['collector']);
  expect(Date.now() - Date.parse(after.body.gaps[0]!.to)).toBeGreaterThanOrEqual(60_000);
});
