/** Trying what is kept: settings as they are typed, and what is drawn of it. */
import { paceSettings, type Tag } from '@wide-ledger/contract';
import { SECOND, Status, fastestMovement } from '@wide-ledger/core';
import { burstColumns } from '../../src/keeping/burstColumns.ts';
import { ownSettings, settingsOf, triedBy, typedOf, withDeadband, type Typed } from '../../src/keeping/settings.ts';
import { RecordedTag, trendOf } from '../../src/keeping/trial.ts';

const typed = (over: Partial<Typed> = {}): Typed => ({ interval: '', way: 'none', amount: '', silence: '', ...over });
const tag = (collection: object | null): Tag => ({ low: 0, high: 50, collection }) as Tag;

test('what is typed is what a pace may have, or a sentence', () => {
  for (const [given, is] of [
    [typed(), { deadband: { kind: 'none' }, longestSilenceSeconds: null }],
    [
      typed({ way: 'line', amount: '0,5', silence: '60' }),
      { deadband: { kind: 'line', width: 0.5 }, longestSilenceSeconds: 60 },
    ],
    [
      typed({ way: 'percent', amount: '2', interval: '1000' }),
      { deadband: { kind: 'percent', percent: 2 }, longestSilenceSeconds: null, intervalMilliseconds: 1000 },
    ],
  ] as const) {
    expect(settingsOf(given)).toEqual(is);
    expect(paceSettings.partial().safeParse(settingsOf(given)).success).toBe(true);
  }
  expect(settingsOf(typed({ way: 'line' }))).toMatch(/^Give how far/);
  expect(settingsOf(typed({ interval: '7' }))).toMatch(/^The interval/);
  expect(settingsOf(typed({ silence: '1.5' }))).toMatch(/^The longest silence/);
});

test('it begins with what is in force, and leaves alone what is not tried', () => {
  const collection = {
    intervalMilliseconds: 500,
    aligned: true,
    deadband: { kind: 'absolute', width: 2 },
    longestSilenceSeconds: 30,
    pace: 'slow',
    departures: ['aligned'],
  };
  expect(typedOf(tag(collection))).toEqual(typed({ way: 'absolute', amount: '2', silence: '30' }));
  expect(withDeadband(typed(), { kind: 'line percent', percent: 1 })).toMatchObject({
    way: 'line percent',
    amount: '1',
  });
  const tried = { deadband: { kind: 'none' } } as const;
  expect(ownSettings(tag(collection), tried)).toEqual({ aligned: true, deadband: { kind: 'none' } });
  expect(ownSettings(tag({ ...collection, pace: null }), tried)).toMatchObject({
    intervalMilliseconds: 500,
    aligned: true,
  });
  expect(triedBy(tag(collection), { deadband: { kind: 'percent', percent: 2 }, longestSilenceSeconds: 5 })).toEqual({
    deadband: { kind: 'percent', percent: 2 },
    longestSilence: 5 * SECOND,
    range: { low: 0, high: 50 },
    interval: 0,
  });
});

const recorded = {
  times: Float64Array.from({ length: 100_000 }, (_, i) => i * SECOND),
  values: Float64Array.from({ length: 100_000 }, (_, i) => (i === 50_000 ? 99 : Math.sin(i / 1000))),
  status: new Uint32Array(100_000),
};

test('a trend draws what stands out, however dense it is', () => {
  const window = { from: 0, to: 100_000_000 };
  const trend = trendOf('recorded', recorded, window);
  expect(trend.samples).toBe(100_000);
  expect(trend.times.length).toBeLessThan(3000);
  expect(Math.max(...trend.values.map(Number))).toBe(99);
  expect([trend.times[0], trend.times.at(-1)]).toEqual([0, 99_999_000]);
  expect(trend.times).toEqual([...trend.times].sort((a, b) => a - b));
});

test('a trial says what is kept, and draws it only where it is asked', () => {
  const of = new RecordedTag(recorded, false, null);
  const settings = { deadband: { kind: 'line', width: 0.1 }, longestSilence: null, range: null, interval: 0 } as const;
  const { row, drawing } = of.try({ tag: 'A', stepped: false, settings }, null);
  expect([row.samples, drawing]).toEqual([100_000, null]);
  expect(row.kept).toBeLessThan(1000);
  expect(row.largestError).toBeLessThanOrEqual(0.1 + 1e-9);
  const drawn = of.try({ tag: 'A', stepped: false, settings }, { from: 0, to: 100_000_000 }).drawing!;
  expect(drawn.kept.samples).toBe(row.kept);
});

test('what was read in a burst tells of what the record cannot; where there was no value it is interrupted', () => {
  const count = 600;
  const times = Array.from({ length: count }, (_, i) => i * 50);
  const burst = { startedAt: '2026-11-01T00:00:00.000Z', times, values: times.map((time) => Math.sin(time / 100)) };
  const columns = burstColumns(burst);
  expect(columns.times[1]! - columns.times[0]!).toBe(0.05 * SECOND);
  expect(fastestMovement(columns)!.period).toBeCloseTo((2 * Math.PI * 100) / 1000, 2);
  const broken = burstColumns({ ...burst, values: burst.values.map((value, i) => (i === 3 ? null : value)) });
  expect([broken.status[2], broken.status[3]]).toEqual([Status.Good, Status.BadNoData]);
});
