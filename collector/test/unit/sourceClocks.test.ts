/** A source whose clock jumps: its values are no evidence of now, and are not kept as Good where nobody wants that. */
import { jest } from '@jest/globals';
import type { ConfiguredSource, OutageSpan } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { Clock, SourceWatcher } from '../../src/index.ts';
import { SourceClocks } from '../../src/watching/sourceClocks.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { polledKind } from '../polledKind.ts';
import { QuickTime } from '../quickTime.ts';
import { opcUaTo, tagAt } from '../tags.ts';

const NOW = 1_800_000_000_000;
const HOUR = 3_600_000;

test('ahead by more than 10 s than usual is a jump; what is late, or has always been ahead, is none', () => {
  const clocks = new SourceClocks(null);
  expect(clocks.jumpOf(1, NOW + 50, NOW)).toBeNull();
  expect(clocks.jumpOf(1, NOW - HOUR, NOW)).toBeNull();
  expect(clocks.jumpOf(1, NOW + 10_000, NOW)).toBeNull();
  expect(clocks.jumpOf(1, NOW + HOUR, NOW)).toBeCloseTo(HOUR - 50);
  // Another tag has another clock.
  expect(clocks.jumpOf(2, NOW + HOUR, NOW)).toBeNull();
  expect(clocks.jumpOf(2, NOW + HOUR + 11_000, NOW)).toBe(11_000);
  expect(clocks.ahead).toEqual([[2, HOUR]]);
  // After a restart.
  const again = new SourceClocks(clocks.ahead);
  expect([again.jumpOf(1, NOW + HOUR, NOW), again.jumpOf(2, NOW + HOUR, NOW)]).toEqual([HOUR, null]);
});

test('a clock that stays wrong for ten minutes has been set; one that was right in between has jumped anew', () => {
  const clocks = new SourceClocks([]);
  for (let at = 0; at < 600_000; at += 1000) expect(clocks.jumpOf(1, NOW + at + HOUR, NOW + at)).toBe(HOUR);
  expect(clocks.jumpOf(1, NOW + 600_000 + HOUR, NOW + 600_000)).toBeNull();
  expect(clocks.ahead).toEqual([[1, HOUR]]);
  const other = new SourceClocks([]);
  other.jumpOf(1, NOW + HOUR, NOW);
  other.jumpOf(1, NOW + 500_000, NOW + 500_000);
  expect(other.jumpOf(1, NOW + 700_000 + HOUR, NOW + 700_000)).toBe(HOUR);
});

test.each([
  ['uncertain', Status.Uncertain],
  ['as they are', Status.Good],
] as const)(
  'a step of an hour for 45 s, values kept %s: told at once, and that time is not covered',
  async (rule, kept) => {
    jest.useFakeTimers();
    const time = new QuickTime();
    jest.setSystemTime(time.start);
    let ahead = 0;
    const source: ConfiguredSource = {
      id: 1,
      name: 'S',
      kind: 'opc-ua',
      connection: { ...opcUaTo(4840), acquire: 'read', ...(rule === 'uncertain' ? {} : { clockJumps: rule }) },
      tags: [tagAt(1, { node: 'i=1', element: '' }, { reading: { intervalMilliseconds: 1000 } })],
    };
    const kind = polledKind(() => {
      const sourceTime = (time.wall() + ahead) * 1000;
      return Promise.resolve([{ tag: 1, value: 5, status: Status.Good, sourceTime, fault: null }]);
    });
    const outlet = new TestOutlet();
    const watcher = new SourceWatcher(source, 1, kind, ALONE, outlet, null, new Clock(time.wall, time.counter));
    watcher.open();
    await time.run(10_000);
    ahead = HOUR;
    await time.run(1500);
    expect(watcher.summary.troubles.some(({ sentence }) => sentence.includes('3600 s further ahead'))).toBe(true);
    await time.run(43_500);
    ahead = 0;
    await time.run(5_000);
    watcher.report();
    const { frames, outages } = outlet.gathering.take();
    watcher.stop('');
    jest.useRealTimers();
    const rows = frames.flatMap(({ times, status }) =>
      [...times].map((at, i) => [time.seconds(at), status[i]!] as const),
    );
    const far = rows.filter(([at]) => at > 3000);
    expect(far.length).toBeGreaterThan(40);
    expect(new Set(far.map(([, status]) => status))).toEqual(new Set([kept]));
    // From the first of these to the next right one nothing is known, and the last value stands for nothing.
    const [gap] = outages.filter(({ code, to }: OutageSpan) => code === 'CLOCK_JUMP' && to !== null);
    expect([time.seconds(gap!.from), time.seconds(gap!.to!)].map(Math.round)).toEqual([11, 56]);
    expect(rows.find(([at]) => at > 10.5 && at < 3000)![1]).toBe(Status.BadNoData);
  },
);
