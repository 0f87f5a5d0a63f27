/** Examinations: what the data themselves betray is found as a job, listed with what it was seen by, and survives a restart. */
import type { Doubt, DoubtsAnswer, ExaminationAnswer, ExaminationReport, Job } from '@wide-ledger/contract';
import { HOUR, MINUTE, SECOND, Status, formatInstant } from '@wide-ledger/core';
import { TestSite, frameOf } from './testSite.ts';

const DAY = 24 * HOUR;
const NOW = Date.now() * 1000;
const START = NOW - DAY;

let site: TestSite;
let sequence = 0;
async function write(
  tag: number,
  rows: readonly (readonly [number, number, number?])[],
  origin = 'live',
): Promise<void> {
  const entry = { writer: 'test', sequence: ++sequence, origin, watches: [], outages: [] };
  expect((await site.entry(entry, frameOf(tag, rows))).status).toBe(200);
}
const every = (interval: number, value: (i: number, time: number) => number, to = NOW): [number, number][] =>
  Array.from({ length: Math.floor((to - START) / interval) }, (_, i) => {
    const time = START + i * interval;
    return [time, value(i, time)];
  });
const moves = (i: number): number => (i * 7919) % 97;

async function examine(asked: object): Promise<{ job: Job; doubts: readonly Doubt[]; counts: DoubtsAnswer['counts'] }> {
  const window = { from: formatInstant(START), to: formatInstant(NOW) };
  const begun = await site.call<ExaminationAnswer>('POST', '/examinations', { ...window, ...asked });
  expect(begun.status).toBe(200);
  await site.jobsDone('examination');
  const { job: id } = begun.body;
  const { body: job } = await site.call<Job>('GET', `/jobs/${id}`);
  const { body } = await site.call<DoubtsAnswer>('GET', `/doubts?job=${id}`);
  return { job, ...body };
}

beforeAll(async () => {
  site = await TestSite.open();
  const place = 'Wells / Well 1';
  const ids: Record<string, number> = {};
  for (const [name, more] of Object.entries({
    stuck: {},
    second: { low: 0, high: 90 },
    third: {},
    fourth: {},
    total: { counter: { rollOver: 1e6 } },
  }))
    ids[name] = await site.tag({ name, type: 'real', unit: 'bar', place, ...more });
  const [from, to] = [NOW - 8 * HOUR, NOW - 5 * HOUR];
  const rest = (value: (i: number) => number) => (i: number, time: number) =>
    time >= from && time < to ? 42 : value(i);
  await write(ids.stuck!, every(10 * SECOND, rest(moves)), 'backfilled');
  const high = (time: number): boolean => time >= NOW - 4 * HOUR && time < NOW - 3 * HOUR;
  const within = (i: number, time: number): number => (high(time) ? 95 + (i % 2) : moves(i) * 0.9);
  await write(ids.second!, every(10 * SECOND, within), 'backfilled');
  await write(ids.third!, every(15 * SECOND, moves), 'backfilled');
  await write(ids.fourth!, every(20 * SECOND, moves), 'backfilled');
  await write(
    ids.total!,
    every(
      MINUTE,
      rest((i) => i),
    ),
    'backfilled',
  );
  // A value that comes again as another one, and a mark that one displaces.
  const twice = NOW - 2 * HOUR;
  await write(ids.third!, [[twice + 1, 5]], 'backfilled');
  await write(ids.fourth!, [[twice + 1, NaN, Status.BadNoData]], 'backfilled');
  await site.site.posting.postAll();
  await write(ids.third!, [[twice + 1, 6]], 'backfilled');
  await write(ids.fourth!, [[twice + 1, 6]], 'backfilled');
  // What somebody corrected is known.
  const samples = [{ time: formatInstant(NOW - 3 * HOUR), value: 1 }];
  const corrected = await site.call('POST', '/history/corrections', { tag: 'fourth', reason: 'by hand', samples });
  expect(corrected.status).toBe(200);
  await write(ids.second!, [[NOW - 7 * HOUR, 3]], 'corrected');
  await site.site.posting.postAll();
  // What just came in: stamps that run backwards, lie ahead, and a value that came twice.
  const live = await site.tag({ name: 'live', type: 'integer', place: 'Elsewhere' });
  await write(live, [[NOW - 10 * SECOND, 1]]);
  await write(live, [[NOW - HOUR, 2]]);
  await write(live, [[NOW - HOUR, 2]]);
  await write(live, [[NOW + 30 * MINUTE, 3]]);
  await write(live, [[NOW - 9 * SECOND, NaN, Status.BadNoCommunication]]);
}, 120_000);
afterAll(() => site.close());

test('each kind is found once, where it is, with what it was seen by', async () => {
  const { job, doubts, counts } = await examine({ to: formatInstant(NOW + MINUTE) });
  expect(job).toMatchObject({ state: 'done', done: 6, total: 6, unit: 'tags' });
  const seen = doubts.map(({ kind, tag, sentence }) => [kind, tag, sentence]);
  expect(seen).toEqual(
    expect.arrayContaining([
      [
        'stuck',
        'stuck',
        expect.stringMatching(
          /^Stayed at 42 bar for 2 h 59 min. It usually moves every 10 s, and a rest of more than \d+ s is unusual. Meanwhile 3 of 4 neighbours that should have moved did.$/,
        ),
      ],
      ['standing', 'total', expect.stringMatching(/^Counted nothing and stayed at 42 bar for 2 h 59 min/)],
      [
        'beyond',
        'second',
        expect.stringMatching(/^360 values outside what it can be: 96 bar at the farthest, and 90 bar/),
      ],
      ['doubled', 'third', expect.stringMatching(/^One value took the place of another one/)],
      ['doubled', 'live', 'One value came twice.'],
      ['backwards', 'live', expect.stringMatching(/^One value had a time stamp before .* by up to 59 min 50 s.$/)],
      [
        'ahead',
        'live',
        expect.stringMatching(/^One value had a time stamp ahead of the server’s clock, by up to (29|30) min/),
      ],
    ]),
  );
  expect(seen).toHaveLength(7);
  expect(counts.reduce((sum, one) => sum + one.doubts, 0)).toBe(7);
  const report = job.report as ExaminationReport;
  expect(report).toMatchObject({ tags: 6, doubts: 7, shortestSeconds: expect.closeTo(86.46, 1) });
  expect(Date.parse(report.journalFrom!)).toBeGreaterThanOrEqual(Math.floor(NOW / 1000) - 1000);
  const stuck = doubts.find(({ kind }) => kind === 'stuck')!;
  expect(stuck).toMatchObject({
    place: 'Wells / Well 1',
    source: null,
    evidence: { value: 42, neighbours: 4, moved: 3 },
  });
  expect(Math.abs(Date.parse(stuck.from) - (NOW - 8 * HOUR) / 1000)).toBeLessThan(11_000);
});

test('a tag alone is told by its neighbours, and these are not told of', async () => {
  const { doubts } = await examine({ tags: ['stuck'] });
  expect(doubts.map(({ kind, tag }) => [kind, tag])).toEqual([['stuck', 'stuck']]);
  const { doubts: none } = await examine({ tags: ['fourth'] });
  expect(none).toEqual([]);
  const { doubts: placed } = await examine({ place: 'Wells' });
  expect(placed.map(({ tag }) => tag).sort()).toEqual(['second', 'stuck', 'third', 'total']);
});

test('what is found is listed by kinds and pages', async () => {
  const { job } = await examine({ place: 'Wells' });
  const page = async (more: string) => (await site.call<DoubtsAnswer>('GET', `/doubts?job=${job.id}${more}`)).body;
  expect((await page('&kind=beyond')).doubts.map(({ tag }) => tag)).toEqual(['second']);
  const first = await page('&limit=3');
  const second = await page(`&limit=3&cursor=${first.next}`);
  expect([first.doubts.length, second.doubts.length, second.next]).toEqual([3, 1, undefined]);
});

test('a tag that is read too seldom for what moves, or needlessly often, is told with an interval that would do', async () => {
  const connection = { host: '127.0.0.1', port: 502, unit: 1 };
  await site.call('PUT', '/sources', { name: 'Paced', kind: 'modbus-tcp', connection });
  const address = { area: 'holding', address: 1, type: 'uint16', order: 'ABCD' };
  const paced = (name: string): Promise<number> =>
    site.tag({
      name,
      type: 'real',
      place: 'Paced',
      collection: { source: 'Paced', address, intervalMilliseconds: 1000 },
    });
  for (const [name, period] of [
    ['quick', 4],
    ['fitting', 20],
    ['lazy', 600],
  ] as const) {
    const wave = (time: number): number => Math.sin((2 * Math.PI * (time - START)) / SECOND / period);
    await write(
      await paced(name),
      every(SECOND, (_, time) => wave(time), START + HOUR),
      'backfilled',
    );
  }
  const { doubts: found } = await examine({ place: 'Paced', to: formatInstant(START + HOUR) });
  const doubts = [...found].sort((a, b) => a.kind.localeCompare(b.kind));
  expect(doubts.map(({ kind, tag, evidence }) => [kind, tag, evidence.proposedMilliseconds])).toEqual([
    ['too slow', 'quick', 200],
    ['wasteful', 'lazy', 60_000],
  ]);
  expect(doubts[0]!.sentence).toMatch(
    /^Its fastest movement takes 4 s .* Read every 1 s that is 4 samples of it; .* Every 200 ms would do.$/,
  );
});

test('one that was cut off goes on behind the groups that are done, and tells nothing twice', async () => {
  for (let n = 0; n < 8; n++) {
    const tag = await site.tag({ name: `far-${n}`, type: 'real', low: 0, high: 50, place: `Far ${n}` });
    await write(tag, [[NOW - HOUR, 51]], 'backfilled');
  }
  const window = { from: formatInstant(START), to: formatInstant(NOW) };
  const { body } = await site.call<ExaminationAnswer>('POST', '/examinations', window);
  for (;;) {
    const { body: found } = await site.call<DoubtsAnswer>('GET', `/doubts?job=${body.job}`);
    if (found.doubts.some(({ tag }) => tag?.startsWith('far-'))) break;
    await new Promise((done) => setTimeout(done, 5));
  }
  await site.restart();
  await site.jobsDone('examination');
  const { body: found } = await site.call<DoubtsAnswer>('GET', `/doubts?job=${body.job}`);
  const far = found.doubts.filter(({ tag }) => tag?.startsWith('far-')).map(({ tag }) => tag);
  expect(far).toEqual(Array.from({ length: 8 }, (_, n) => `far-${n}`));
});

test('what cannot be examined is said', async () => {
  const window = { from: formatInstant(START), to: formatInstant(NOW) };
  const ask = async (more: object) => {
    const { status, body } = await site.call<{ detail: string }>('POST', '/examinations', { ...window, ...more });
    return [status, body.detail];
  };
  expect(await ask({ place: 'Nowhere' })).toEqual([404, 'There is no tag at "Nowhere".']);
  expect(await ask({ tags: ['none'] })).toEqual([404, 'There is no tag "none".']);
  expect(await ask({ tags: ['stuck'], place: 'Wells' })).toEqual([400, 'Name tags or a place, not both.']);
});
