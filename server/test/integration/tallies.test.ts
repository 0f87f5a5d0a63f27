/** Tallies of what a tag holds: as posting keeps them, and as they are counted from the samples. */
import type { TalliesAnswer } from '@wide-ledger/contract';
import { EMPTY_TALLY, HOUR, addTallies, parseTally, tallyOf, tallyText, type Tally } from '@wide-ledger/core';
import { createDatabase } from './testDatabase.ts';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
const far = await createDatabase();
await site.call('POST', '/stores', { name: 'Far', url: far.url });
afterAll(async () => {
  await site.close();
  await far.drop();
});

const START = Date.UTC(2026, 0, 30) * 1000;
type Row = readonly [micros: number, value: number, status?: number];

/** Four days of values an hour and a half apart: the end of a month in the middle. */
const ROWS = Array.from({ length: 64 }, (_, i): Row => [START + i * 1.5 * HOUR, Math.round(1000 * Math.sin(i)) / 10]);
const WINDOW = 'from=2026-01-01T00:00:00Z&to=2026-03-01T00:00:00Z';

const rowsOf = async (tag: string, by: string, window = WINDOW): Promise<TalliesAnswer['rows']> =>
  (await site.call<TalliesAnswer>('GET', `/tallies?tag=${tag}&by=${by}&${window}`)).body.rows;
const sum = (rows: TalliesAnswer['rows']): Tally =>
  rows.reduce((total, { count, tally }) => addTallies(total, parseTally(count, tally)), EMPTY_TALLY);
/** The months, which are the same however they are asked for. */
async function months(tag: string): Promise<[string, number, string][]> {
  const kept = await rowsOf(tag, 'month');
  for (const by of ['day', 'hour']) expect(sum(await rowsOf(tag, by))).toEqual(sum(kept));
  return kept.map(({ from, count, tally }) => [from.slice(0, 7), count, tally]);
}
const expected = (rows: readonly Row[]): [string, number, string][] =>
  ['2026-01', '2026-02'].flatMap((month) => {
    const own = rows.filter(([time]) => new Date(time / 1000).toISOString().startsWith(month));
    const tally = tallyOf(frameOf(0, own));
    return own.length === 0 ? [] : [[month, tally.count, tallyText(tally)]];
  });

let sequence = 0;
const deliver = (tag: number, rows: readonly Row[]) =>
  site.entry({ writer: 'w', sequence: ++sequence, origin: 'live' }, frameOf(tag, rows));
const post = () => site.site.posting.postAll();
/** Whether a tag's months are all counted. */
const counted = async (tag: number): Promise<boolean> =>
  (await site.query(`SELECT FROM ledger_month WHERE tag_id = $1 AND NOT counted`, [tag])).length === 0;

test('the same samples have the same tallies, in whatever order and pieces they came, posted or not', async () => {
  const ids = [
    await site.tag({ name: 'InOrder' }),
    await site.tag({ name: 'Backwards' }),
    await site.tag({ name: 'Waiting' }),
  ];
  await deliver(ids[0]!, ROWS);
  await post();
  expect(await months('InOrder')).toEqual(expected(ROWS));
  // One by one from the end, every other one twice, posted now and then.
  for (const [i, row] of [...ROWS].reverse().entries()) {
    await deliver(ids[1]!, [row]);
    if (i % 2 === 0) await deliver(ids[1]!, [row]);
    if (i % 10 === 0) await post();
  }
  await post();
  expect(await months('Backwards')).toEqual(expected(ROWS));
  for (const row of ROWS) await deliver(ids[2]!, [row]);
  expect(await months('Waiting')).toEqual(expected(ROWS));
  await post();
  expect(await months('Waiting')).toEqual(expected(ROWS));
});

test('what is corrected, removed or comes late changes them as if it had been so from the beginning', async () => {
  const id = await site.tag({ name: 'Edited' });
  await deliver(
    id,
    ROWS.filter((_, i) => i !== 5),
  );
  await post();
  const time = (i: number): string => new Date(ROWS[i]![0] / 1000).toISOString();
  await site.call('POST', '/history/corrections', {
    tag: 'Edited',
    reason: 'r',
    samples: [{ time: time(9), value: 7 }],
  });
  await site.call('POST', '/history/removals', { tag: 'Edited', reason: 'r', from: time(20), to: time(24) });
  await deliver(id, [ROWS[5]!]);
  const left = ROWS.flatMap((row, i): Row[] => (i >= 20 && i < 24 ? [] : [i === 9 ? [row[0], 7] : row]));
  expect(await months('Edited')).toEqual(expected(left));
  await post();
  expect(await months('Edited')).toEqual(expected(left));
  // A status alone is another sample.
  await deliver(id, [[ROWS[0]![0], ROWS[0]![1], 0x40000000]]);
  await post();
  expect((await months('Edited'))[0]).not.toEqual(expected(left)[0]);
});

test('they go with a tag into another store and back, where they are counted anew; months that go, go', async () => {
  const id = await site.tag({ name: 'Moving' });
  await deliver(id, ROWS);
  await post();
  let standing: Row[] = ROWS;
  for (const store of ['Far', 'Embedded']) {
    await site.call('POST', '/stores/moves', { tags: ['Moving'], store });
    await site.jobsDone('move');
    expect(await months('Moving')).toEqual(expected(standing));
    const next: Row = [standing.at(-1)![0] + HOUR, 1];
    await deliver(id, [next]);
    await post();
    standing = [...standing, next];
    expect(await months('Moving')).toEqual(expected(standing));
  }
  while (!(await counted(id))) await new Promise((done) => setTimeout(done, 50));
  expect(await months('Moving')).toEqual(expected(standing));
});

test('months that were written by an earlier version are counted when there is nothing else to do', async () => {
  const id = await site.tag({ name: 'Earlier' });
  await deliver(id, ROWS);
  await post();
  await site.query('UPDATE ledger_month SET counted = false, samples = 3, tally_1 = 4 WHERE tag_id = $1', [id]);
  expect(await months('Earlier')).toEqual(expected(ROWS));
  while (!(await counted(id))) await new Promise((done) => setTimeout(done, 50));
  const [{ n }] = (await site.query<{ n: number }>(
    'SELECT sum(samples)::int AS n FROM ledger_month WHERE tag_id = $1',
    [id],
  )) as [{ n: number }];
  expect(n).toBe(ROWS.length);
  expect(await months('Earlier')).toEqual(expected(ROWS));
});

test('a window is cut at its ends; cells are those of UTC; too many are refused', async () => {
  const id = await site.tag({ name: 'Cut' });
  await deliver(id, ROWS);
  const [from, to] = ['2026-01-31T22:30:00Z', '2026-02-01T01:30:00Z'];
  expect(await rowsOf('Cut', 'hour', `from=${from}&to=${to}`)).toMatchObject([
    { from: '2026-01-31T22:30:00.000Z', to: '2026-01-31T23:00:00.000Z', count: 1 },
    { from: '2026-02-01T00:00:00.000Z', to: '2026-02-01T01:00:00.000Z', count: 1 },
  ]);
  const { status, body } = await site.call<{ detail: string }>(
    'GET',
    '/tallies?tag=Cut&by=hour&from=1990-01-01T00:00:00Z&to=2026-01-01T00:00:00Z',
  );
  expect([status, body.detail]).toEqual([400, expect.stringContaining('more than 100000 hours')]);
});
