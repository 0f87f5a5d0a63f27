/**
 * What a filter holds back is not lost: whenever a collector is killed, what is readable afterwards of the time that counts
 * as watched lies within the filter's width of what was read.
 */
import { jest } from '@jest/globals';
import type { ConfiguredSource, ConfiguredTag, WatchSpan } from '@wide-ledger/contract';
import { Status, isGood, subtract, union, type Deadband, type Span } from '@wide-ledger/core';
import fc from 'fast-check';
import { Clock, SourceWatcher, type Value, type WatcherNotes } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { polledKind } from '../polledKind.ts';
import { QuickTime } from '../quickTime.ts';
import { tagAt } from '../tags.ts';

const WIDTH = 1;
const FILTERS: Record<string, Deadband> = {
  'along lines': { kind: 'line', width: WIDTH },
  'in percent along lines': { kind: 'line percent', percent: 1 },
  absolute: { kind: 'absolute', width: WIDTH },
  'in percent': { kind: 'percent', percent: 1 },
  none: { kind: 'none' },
};
interface Point {
  readonly time: number;
  readonly value: number;
}
/** One a second: of a run of integers each is a bigint. */
const course = (seed: number, second: number, whole: boolean): Value => {
  const value = 100 + ((seed % 7) - 3) * second * 0.31 + 4 * Math.sin(second / (2 + (seed % 5)));
  return whole ? BigInt(Math.round(value)) : value;
};

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.clearAllTimers();
  jest.useRealTimers();
});

async function play(deadband: Deadband, seed: number, whole: boolean, kills: readonly number[], pause: number) {
  const time = new QuickTime(50);
  jest.setSystemTime(time.start);
  const read: Point[] = [];
  const archived: (Point & { status: number })[] = [];
  const watches: WatchSpan[] = [];
  const notWatched: Span[] = [];
  const tag: ConfiguredTag = tagAt(
    1,
    { area: 'holding', address: 0, type: 'uint16', order: 'ABCD' },
    { type: whole ? 'integer' : 'real', low: 0, high: 100, reading: { deadband, longestSilenceSeconds: 40 } },
  );
  const connection = { host: '', port: 502, unit: 1, timeoutMilliseconds: 1000 };
  const source: ConfiguredSource = { id: 1, name: 'S', kind: 'modbus-tcp', connection, tags: [tag] };
  const kind = polledKind(() => {
    const at = Math.round((time.wall() - time.start) / 1000);
    const value = course(seed, at, whole);
    read.push({ time: time.wall() * 1000, value: Number(value) });
    return Promise.resolve([{ tag: 1, value, status: Status.Good, sourceTime: time.wall() * 1000, fault: null }]);
  });
  /** What is on the disk. */
  let notes: WatcherNotes | null = null;
  const begin = () => {
    const outlet = new TestOutlet();
    const watcher = new SourceWatcher(source, 1, kind, ALONE, outlet, notes, new Clock(time.wall, time.counter));
    watcher.open();
    const flush = (): void => {
      watcher.report();
      const { frames, watches: spans, outages } = outlet.gathering.take();
      for (const { times, values, status } of frames)
        times.forEach((at, i) => archived.push({ time: at, value: values[i]!, status: status[i]! }));
      watches.push(...spans);
      for (const { from, to, within } of outages) if (within && to !== null) notWatched.push({ from, to });
      notes = JSON.parse(JSON.stringify(watcher.notes)) as WatcherNotes;
    };
    return { watcher, flush };
  };
  let run = begin();
  for (const lasts of kills) {
    for (let passed = 0; passed < lasts; passed += 250) {
      await time.run(250);
      run.flush();
    }
    if (pause > 0) time.freeze(pause);
    // Killed, and begun anew: what was not flushed is gone.
    await time.run(50);
    run.watcher.stop('Killed.');
    await time.run(3000);
    run = begin();
  }
  await time.run(2000);
  run.watcher.stop('Stopped.');
  run.flush();
  const watched = subtract(union(watches), union(notWatched));
  const inOrder = archived
    .filter(({ status, value }) => isGood(status) && !Number.isNaN(value))
    .toSorted((a, b) => a.time - b.time);
  return { read, watched, inOrder, marks: archived.filter(({ status }) => !isGood(status)) };
}

/** The value that a reader sees at an instant: along the line, or as the last one holds. */
function seen(inOrder: readonly Point[], marks: readonly Point[], at: number, along: boolean): number {
  const before = inOrder.findLast(({ time }) => time <= at);
  const after = inOrder.find(({ time }) => time >= at);
  if (!before) return NaN;
  const broken = marks.some(({ time }) => time > before.time && time <= (after?.time ?? Infinity));
  if (!along || !after || broken || after.time === before.time) return before.value;
  return before.value + ((after.value - before.value) * (at - before.time)) / (after.time - before.time);
}

test.each(Object.entries(FILTERS))('%s: whatever instant it is killed at', async (_name, deadband) => {
  let compared = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.nat(1000),
      fc.boolean(),
      fc.array(
        fc.integer({ min: 4, max: 240 }).map((quarters) => quarters * 250),
        { minLength: 1, maxLength: 2 },
      ),
      fc.constantFrom(0, 1250, 4000),
      async (seed, whole, kills, pause) => {
        const { read, watched, inOrder, marks } = await play(deadband, seed, whole, kills, pause);
        for (const { time, value } of read) {
          if (!watched.some(({ from, to }) => time >= from && time < to)) continue;
          compared++;
          const shown = seen(inOrder, marks, time, deadband.kind.startsWith('line'));
          expect(Math.abs(shown - value)).toBeLessThanOrEqual((deadband.kind === 'none' ? 0 : WIDTH) + 1e-6);
        }
      },
    ),
    { numRuns: 12 },
  );
  expect(compared).toBeGreaterThan(100);
});
