/** Tags whose values come by calls and files: where they came and where they stayed away, told by the values themselves. */
import type { CoverageAnswer, CoverageRow, GapsAnswer } from '@wide-ledger/contract';
import { HOUR, MINUTE, SECOND, Status, formatInstant } from '@wide-ledger/core';
import { TestSite, frameOf } from './testSite.ts';

const START = Date.UTC(2026, 9, 5, 8) * 1000;
const DAY = 24 * HOUR;

let site: TestSite;
let sequence = 0;
/** Writes values of a tag at some times, as an import does. */
async function write(tag: number, times: readonly number[], status: number = Status.Good): Promise<void> {
  const frame = frameOf(
    tag,
    times.map((time) => [time, status === Status.Good ? 1 : NaN, status]),
  );
  const entry = { writer: 'import', sequence: ++sequence, origin: 'backfilled', watches: [], outages: [] };
  expect((await site.entry(entry, frame)).status).toBe(200);
}

const every = (interval: number, from: number, to: number): number[] =>
  Array.from({ length: Math.ceil((to - from) / interval) }, (_, i) => from + i * interval);

const query = (from: number, to: number, more: string): string =>
  `from=${formatInstant(from)}&to=${formatInstant(to)}${more}`;
async function strip(tag: string, from: number, to: number): Promise<CoverageRow> {
  const { body } = await site.call<CoverageAnswer>('GET', `/coverage?${query(from, to, `&tag=${tag}`)}`);
  return body.rows[0]!;
}
const minutes = ({ from, to }: { from: string; to: string }): [number, number] => [
  (Date.parse(from) * 1000 - START) / MINUTE,
  (Date.parse(to) * 1000 - START) / MINUTE,
];

let minutely: number;
let secondly: number;
beforeAll(async () => {
  site = await TestSite.open();
  minutely = await site.tag({ name: 'LAB-1', type: 'real', place: 'Laboratory' });
  secondly = await site.tag({ name: 'LAB-2', type: 'real', place: 'Laboratory' });
  // A value a minute for five hours; from 100 to 130 there was none but a mark that says so.
  await write(minutely, [
    ...every(MINUTE, START, START + 101 * MINUTE),
    ...every(MINUTE, START + 130 * MINUTE, START + 300 * MINUTE),
  ]);
  await write(minutely, [START + 110 * MINUTE], Status.BadNoData);
  // A value a second for six hours, with five minutes left out in the middle of an hour.
  await write(secondly, [
    ...every(SECOND, START, START + 100 * MINUTE),
    ...every(SECOND, START + 105 * MINUTE, START + 6 * HOUR),
  ]);
}, 60_000);
afterAll(() => site.close());

/** Whether in the journal or in the ledger, the answers are the same. */
const places = ['as they came', 'posted'] as const;
describe.each(places)('values %s', (place) => {
  beforeAll(async () => {
    if (place === 'posted') await site.site.posting.postAll();
  }, 60_000);

  test('a tag has a strip from its values, with what is estimated said', async () => {
    const row = await strip('LAB-1', START, START + 5 * HOUR);
    expect([row.source, row.sourceId, row.tag]).toEqual(['', 0, 'LAB-1']);
    expect(row.spans.map((span) => [...minutes(span), span.origin])).toEqual([
      [0, 100, 'backfilled'],
      [130, 299, 'backfilled'],
    ]);
    expect(row.gaps.map(minutes)).toEqual([[100, 130]]);
    expect(row.gaps[0]).toMatchObject({
      cause: 'no values',
      state: 'open',
      recoverable: false,
      source: null,
      tag: 'LAB-1',
    });
    expect(row.gaps[0]!.sentence).toBe(
      'No value came. One is expected about every 1 min, and a silence of more than 1 min 30 s is unusual: estimated from 271 values.',
    );
    expect(row.estimate).toEqual({ values: 271, usualSeconds: 60, gapSeconds: 90 });
    expect(row.watchedPercent).toBeCloseTo((100 * 269) / 299, 6);
  });

  test('a gap that begins or ends outside the window is told as far as it lies inside', async () => {
    const row = await strip('LAB-1', START + 110 * MINUTE, START + 120 * MINUTE);
    expect([row.spans, row.gaps.map(minutes)]).toEqual([[], [[110, 120]]]);
    const before = await strip('LAB-1', START - DAY, START + 10 * MINUTE);
    expect([before.spans.map(minutes), before.gaps]).toEqual([[[0, 10]], []]);
    // Nobody writes it any more: silence after the last value is no gap.
    const after = await strip('LAB-1', START + 250 * MINUTE, START + 3 * DAY);
    expect([after.spans.map(minutes), after.gaps]).toEqual([[[250, 299]], []]);
  });

  test('a long window is looked through in steps: what no strip could show is not looked for', async () => {
    expect((await strip('LAB-2', START, START + 6 * HOUR)).gaps.map(minutes)).toEqual([[99 + 59 / 60, 105]]);
    expect((await strip('LAB-2', START - 200 * DAY, START + 200 * DAY)).gaps).toEqual([]);
  });
});

test('they are in the list of gaps and among strips; a tag with a source is not asked in that way', async () => {
  await site.call('PUT', '/sources', {
    name: 'D',
    kind: 'modbus-tcp',
    connection: { host: '127.0.0.1', port: 1, unit: 1, timeoutMilliseconds: 1000 },
  });
  const collection = { source: 'D', address: { area: 'holding', address: 1 } };
  await site.tag({ name: 'READ', type: 'real', place: 'Laboratory', collection });
  const window = query(START, START + 5 * HOUR, '');
  const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}`);
  expect(body.gaps.map(({ tag, cause }) => [tag, cause])).toEqual([
    ['LAB-1', 'no values'],
    ['LAB-2', 'no values'],
  ]);
  expect([body.total, body.unlooked]).toEqual([2, 0]);
  const among = await site.call<CoverageAnswer>('GET', `/coverage?${window}&among=${secondly}`);
  expect(among.body.rows.map(({ tag }) => tag).filter((tag) => tag !== null)).toEqual(['LAB-2']);
  const elsewhere = await site.call<GapsAnswer>('GET', `/gaps?${window}&place=Elsewhere`);
  expect(elsewhere.body.gaps).toEqual([]);
});

test('a person explains one, and the longest silence that was set ends another', async () => {
  const [from, to] = [formatInstant(START + 100 * MINUTE), formatInstant(START + 130 * MINUTE)];
  const said = await site.call('POST', '/gaps/explanations', {
    tag: 'LAB-1',
    from,
    to,
    reason: 'The analyst was away.',
  });
  expect(said.status).toBe(201);
  const row = await strip('LAB-1', START, START + 5 * HOUR);
  expect(row.gaps.map(({ explained }) => explained)).toEqual([{ by: 'admin', reason: 'The analyst was away.' }]);
  await site.query(`UPDATE tag SET settings = '{"longestSilenceSeconds": 1800}' WHERE id = $1`, [minutely]);
  expect((await strip('LAB-1', START, START + 5 * HOUR)).gaps).toEqual([]);
});

test('too few values tell of no gap, and too many tags are not looked at but counted', async () => {
  const few = await site.tag({ name: 'FEW', type: 'real' });
  await write(few, [START, START + HOUR]);
  const row = await strip('FEW', START, START + 5 * HOUR);
  expect([row.spans.map(minutes), row.gaps, row.estimate]).toEqual([
    [
      [0, 0],
      [60, 60],
    ],
    [],
    null,
  ]);
  await site.call(
    'POST',
    '/tags',
    Array.from({ length: 200 }, (_, i) => ({ name: `MANY-${i}`, type: 'real' })),
  );
  const window = query(START, START + 5 * HOUR, '');
  const { body } = await site.call<GapsAnswer>('GET', `/gaps?${window}`);
  expect([body.gaps, body.unlooked]).toEqual([[], 203]);
  const place = await site.call<GapsAnswer>('GET', `/gaps?${window}&place=Laboratory`);
  expect([place.body.gaps.map(({ tag }) => tag), place.body.unlooked]).toEqual([['LAB-2'], 0]);
});
