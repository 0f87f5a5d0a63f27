/** Summaries over a link: sent when their intervals are over, again when what they follow from changes, and compared. */
import type { Invitation, Job, LinksAnswer, LinkNames, ReconcilingReport, SendingLink } from '@wide-ledger/contract';
import { TestSite, frameOf } from './testSite.ts';
import { until } from './until.ts';

const near = await TestSite.open({ WIDE_LEDGER_SITE: 'Thornmere' });
const far = await TestSite.open({ WIDE_LEDGER_SITE: 'Region' });
afterAll(async () => {
  await near.close();
  await far.close();
});

const SECOND = 1_000_000;
const INTERVAL = 2 * SECOND;
const AGGREGATES = ['TimeAverage', 'Maximum', 'Count', 'PercentGood'] as const;
const SUMMARIES = AGGREGATES.map((aggregate) => ({ aggregate, interval: 'PT2S' }));

let sequence = 0;
const deliver = (
  site: TestSite,
  tag: number,
  rows: readonly (readonly [micros: number, value: number, status?: number])[],
) =>
  site.entry(
    { writer: 'w', sequence: ++sequence, origin: 'live' },
    frameOf(
      tag,
      rows.map(([micros, value, status = 0]) => [micros, value, status]),
    ),
  );
const now = (): number => Date.now() * 1000;
const iso = (micros: number): string => new Date(micros / 1000).toISOString();

const level = await near.tag({ name: 'Level', unit: 'm' });
const valve = await near.tag({ name: 'Valve', stepped: true });
const words = await near.tag({ name: 'Words', type: 'text' });
const { body: invitation } = await far.call<Invitation>('POST', '/links/invitations', { name: 'North' });
const { body: link } = await near.call<SendingLink>('POST', '/links', {
  name: 'Region',
  url: far.site.url,
  code: invitation.code,
  naming: { rules: [{ kind: 'prefix', text: 'TM.' }], single: {} },
  detail: false,
  summaries: SUMMARIES,
});
const began = now();

/** Figures as the near end computes them when it is asked, and as they stand at the far end: time, value, status. */
interface Figure {
  readonly time: string;
  readonly value: number | null;
  readonly status: string;
}
async function here(tag: string, aggregate: string, from: number, to: number): Promise<Figure[]> {
  const asked = `tag=${tag}&aggregate=${aggregate}&interval=PT2S&from=${iso(from)}&to=${iso(to)}`;
  const { body } = await near.call<{ rows: Figure[] }>('GET', `/history/processed?${asked}`);
  return body.rows.map(({ time, value, status }) => ({ time, value, status }));
}
async function there(tag: string, aggregate: string, from: number, to: number): Promise<Figure[]> {
  const asked = `tag=TM.${tag}.${aggregate}.PT2S&from=${iso(from)}&to=${iso(to)}`;
  const { status, body } = await far.call<{ samples: Figure[] }>('GET', `/history/raw?${asked}`);
  return status === 200 ? body.samples.map(({ time, value, status }) => ({ time, value, status })) : [];
}
/** Waits until every figure of a window stands at the far end as it is computed here. */
const same = (from: number, to: number): Promise<void> =>
  until(
    'the figures there are those here',
    async () => (await differing(from, to)).length === 0,
    () => differing(from, to),
  );
async function differing(from: number, to: number): Promise<unknown[]> {
  const found: unknown[] = [];
  for (const tag of ['Level', 'Valve']) {
    for (const aggregate of AGGREGATES) {
      const [own, held] = [await here(tag, aggregate, from, to), await there(tag, aggregate, from, to)];
      if (JSON.stringify(own) !== JSON.stringify(held)) found.push({ tag, aggregate, own, held });
    }
  }
  return found;
}

let from = 0;
let to = 0;

test('an interval that is over is there as it is computed here; no value is', async () => {
  const state = async () => (await near.call<LinksAnswer>('GET', '/links')).body.sending[0];
  await until('the link is level', async () => (await state())?.state === 'level', state);
  for (let i = 0; i < 30; i++) {
    await deliver(near, level, [[now(), Math.round(100 * Math.sin(i / 3)) / 10, i % 7 === 3 ? 0x40000000 : 0]]);
    if (i % 5 === 0) await deliver(near, valve, [[now(), i % 2]]);
    if (i % 10 === 0)
      await near.entry({ writer: 'w', sequence: ++sequence, origin: 'live' }, frameOf(words, [[now(), 0]], ['open']));
    await new Promise((done) => setTimeout(done, 250));
  }
  // The first interval that ended after the link was made; the last that has ended by now.
  from = Math.floor(began / INTERVAL) * INTERVAL;
  to = Math.floor(now() / INTERVAL) * INTERVAL;
  expect(to - from).toBeGreaterThanOrEqual(3 * INTERVAL);
  await same(from, to);
  expect((await here('Level', 'Count', from, to)).some(({ value }) => value! > 0)).toBe(true);
  expect((await far.call('GET', `/history/raw?tag=TM.Level&from=${iso(from)}&to=${iso(to)}`)).status).toBe(404);
  // Of a text only what can be counted, in its own unit; the rest in that of the tag.
  const rows = await far.query<{ name: string; unit: string }>('SELECT name, unit FROM tag ORDER BY name');
  const units = new Map(rows.map(({ name, unit }) => [name, unit]));
  expect(units.get('TM.Level.TimeAverage.PT2S')).toBe('m');
  expect(units.get('TM.Level.PercentGood.PT2S')).toBe('%');
  expect([...units.keys()].filter((name) => name.startsWith('TM.Words'))).toEqual([
    'TM.Words.Count.PT2S',
    'TM.Words.PercentGood.PT2S',
  ]);
});

test('late, corrected and removed values are felt as far as they reach, and the earlier figures are kept', async () => {
  const middle = from + INTERVAL + SECOND;
  await deliver(near, level, [[middle + 1, 500]]);
  await same(from, to);
  expect((await there('Level', 'Maximum', from, to)).some(({ value }) => value === 500)).toBe(true);
  await near.call('POST', '/history/corrections', {
    tag: 'Valve',
    reason: 'wrong wire',
    samples: [{ time: iso(from + 10), value: 7 }],
  });
  await same(from, to);
  await near.call('POST', '/history/removals', {
    tag: 'Level',
    reason: 'spike',
    from: iso(middle),
    to: iso(middle + SECOND),
  });
  await same(from, to);
  expect((await there('Level', 'Maximum', from, to)).some(({ value }) => value === 500)).toBe(false);
  const asked = `tag=TM.Level.Maximum.PT2S&from=${iso(from)}&to=${iso(to)}`;
  const { body } = await far.call<{ modified: { value: number; time: string }[] }>('GET', `/history/modified?${asked}`);
  expect(JSON.stringify(body)).toContain('500');
});

test('summaries are compared by being computed anew, and made the same there', async () => {
  const window = { from: iso(from), to: iso(to) };
  const reconciled = async (repair: string): Promise<ReconcilingReport> => {
    const { body } = await near.call<{ job: number }>('POST', `/links/${link.id}/reconcile`, { ...window, repair });
    let job: Job | null = null;
    await until(
      'it is compared',
      async () => {
        ({ body: job } = await near.call<Job>('GET', `/jobs/${body.job}`));
        return job.state === 'done';
      },
      () => Promise.resolve(job),
    );
    return job!.report as ReconcilingReport;
  };
  const figures = ((to - from) / INTERVAL) * (2 * AGGREGATES.length + 2);
  expect(await reconciled('nothing')).toMatchObject({
    equal: true,
    tags: 2 * AGGREGATES.length + 2,
    compared: figures,
  });
  const spoilt = { tag: 'TM.Level.Count.PT2S', reason: 'x', samples: [{ time: iso(from), value: 99 }] };
  expect((await far.call('POST', '/history/corrections', spoilt)).status).toBe(200);
  const found = await reconciled('here');
  expect(found).toMatchObject({ equal: false, hours: 1, repaired: 0 });
  expect(found.differing[0]).toMatchObject({ tag: 'Level.Count.PT2S', differentValue: 1 });
  expect(await reconciled('there')).toMatchObject({ equal: true, hours: 1, repaired: 1 });
  await same(from, to);
});

test('how they would be called is seen before; what does not go together is refused', async () => {
  const asked = { carries: [{ search: 'Level', place: '' }], naming: { rules: [], single: {} } };
  const named = async (more: object) =>
    (await near.call<LinkNames>('POST', '/links/names', { ...asked, ...more })).body;
  expect(
    (await named({ summaries: [{ aggregate: 'Average', interval: 'shift:06:00/18:00' }] })).rows.map(
      (row) => row.farName,
    ),
  ).toEqual(['Level', 'Level.Average.shift-06-00-18-00']);
  const body = { name: 'Other', to: { kind: 'files', folder: 'summaries' } };
  const refused = async (more: object): Promise<string> =>
    JSON.stringify((await near.call('POST', '/links', { ...body, ...more })).body);
  expect(await refused({ detail: false })).toContain('nothing is carried');
  expect(await refused({ summaries: SUMMARIES })).toContain('Files hold every value');
  expect(await refused({ summaries: [{ aggregate: 'Average', interval: 'P2D' }] })).toContain('has to be an interval');
  expect(await refused({ summaries: [SUMMARIES[0], SUMMARIES[0]] })).toContain('there twice');
});
