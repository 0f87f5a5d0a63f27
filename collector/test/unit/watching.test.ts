/** Coverage is what was read, on every beat: a stopped process, a set clock, a slow device, a source taken out. */
import { jest } from '@jest/globals';
import type { ConfiguredSource, OutageSpan, WatchSpan } from '@wide-ledger/contract';
import { Status, decodeFrame, encodeFrame, subtract, union, wholeAt, type Span } from '@wide-ledger/core';
import {
  Beats,
  Clock,
  Gathering,
  Pace,
  SourceAway,
  SourceWatcher,
  isOnBeat,
  type Kind,
  type PolledSession,
  type Sample,
  type Value,
} from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { QuickTime } from '../quickTime.ts';

type Read = PolledSession['read'];

/** A kind whose sources answer at once with a counter, or as the test has it. */
function deviceOf(
  read: Read = (tags) => Promise.resolve(readings(tags)),
  opening: Promise<void> = Promise.resolve(),
): Kind {
  return {
    check: () => Promise.reject(new Error('not asked for')),
    open: async () => {
      await opening;
      return { acquires: 'poll', read, close: () => undefined };
    },
  };
}
let count = 0;
const readings = (tags: Parameters<Read>[0], value: () => Value = () => count++): Sample[] =>
  tags.map(({ id }) => ({ tag: id, value: value(), status: Status.Good, sourceTime: null, fault: null }));

const sourceOf = (intervals: readonly number[]): ConfiguredSource => ({
  id: 1,
  name: 'S',
  kind: 'modbus-tcp',
  connection: { host: '', port: 502, unit: 1, timeoutMilliseconds: 1000 },
  tags: intervals.map((intervalMilliseconds, i) => ({
    id: i + 1,
    name: `T${i + 1}`,
    type: 'real',
    low: null,
    high: null,
    reading: {
      address: { area: 'holding', address: i, type: 'uint16', order: 'ABCD' },
      intervalMilliseconds,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: null,
    },
  })),
});

interface Told {
  watches: WatchSpan[];
  outages: OutageSpan[];
  samples: [tag: number, second: number, status: number][];
}

/** A source that is watched, and what was told of it so far. */
class Watched {
  readonly time = new QuickTime();
  readonly outlet = new TestOutlet();
  readonly clock = new Clock(this.time.wall, this.time.counter);
  readonly watcher: SourceWatcher;
  private readonly told: Told = { watches: [], outages: [], samples: [] };

  constructor(intervals: readonly number[], kind: Kind = deviceOf()) {
    this.watcher = new SourceWatcher(sourceOf(intervals), 1, kind, ALONE, this.outlet, null, this.clock);
    this.watcher.open();
  }

  tell(): Told {
    this.clock.look();
    this.watcher.report();
    const { frames, watches, outages } = this.outlet.gathering.take();
    this.told.watches.push(...watches);
    this.told.outages = [...this.told.outages, ...outages];
    for (const frame of frames) {
      frame.times.forEach((time, i) =>
        this.told.samples.push([frame.tags![i]!, this.time.seconds(time), frame.status[i]!]),
      );
    }
    return this.told;
  }

  /** What was watched, in seconds: the watches without what was found inside them afterwards, for the source or a tag. */
  covered(tag: number | null = null): [number, number][] {
    const { watches, outages } = this.tell();
    const out = outages.filter(
      ({ within, tag: whose, to }) => within && to !== null && (whose === null || whose === tag),
    );
    const spans = subtract(union(watches), union(out as Span[]));
    return spans.map(({ from, to }) => [this.time.seconds(from), this.time.seconds(to)]);
  }
}

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

test('a source that is read on every beat is covered without a hole', async () => {
  const watched = new Watched([1000, 50]);
  await watched.time.run(20_000);
  expect(watched.covered()).toHaveLength(1);
  const [[from, to]] = watched.covered() as [[number, number]];
  expect(from).toBeLessThan(1.1);
  expect(to).toBeGreaterThan(19.9);
  expect(watched.tell().outages).toEqual([]);
});

test('no tag counts as watched before it was read, whatever others vouch for: at the start and after a loss', async () => {
  let isAway = false;
  const watched = new Watched(
    [50, 1000, 10_000],
    deviceOf((tags) =>
      isAway
        ? Promise.reject(new SourceAway('gone', 'CLOSED', Status.BadNoCommunication))
        : Promise.resolve(readings(tags)),
    ),
  );
  await watched.time.run(12_300);
  isAway = true;
  await watched.time.run(3_000);
  isAway = false;
  await watched.time.run(4_000);
  const covered = watched.covered();
  expect(covered).toHaveLength(2);
  const good = watched.tell().samples.filter(([, , status]) => status === Status.Good);
  for (const [from] of covered)
    for (const tag of [1, 2, 3]) {
      const first = good.find(([own, second]) => own === tag && second > from - 0.5)!;
      expect(first[1] - from).toBeLessThan(0.01);
    }
});

test('a version that comes just after a beat, before its read, leaves no beat out', async () => {
  const watched = new Watched([1000]);
  await watched.time.run(10_990);
  watched.time.freeze(20);
  watched.watcher.update(sourceOf([1000]), 2);
  await watched.time.run(5_000);
  expect(watched.tell().outages).toEqual([]);
  expect(watched.covered()).toHaveLength(1);
});

test.each([1500, 12_000, 75_000])('a process that is stopped for %s ms watches nothing meanwhile', async (stopped) => {
  const watched = new Watched([1000]);
  await watched.time.run(10_200);
  watched.time.freeze(stopped);
  await watched.time.run(5_000);
  const covered = watched.covered();
  expect(covered).toHaveLength(2);
  // From the last beat that was read to the first one after.
  const first = Math.ceil((10_200 + stopped) / 1000);
  expect(covered[0]![1]).toBeCloseTo(10, 1);
  expect(covered[1]![0]).toBeGreaterThanOrEqual(Math.floor((10_200 + stopped) / 1000));
  expect(covered[1]![0]).toBeLessThanOrEqual(first);
  const { outages, samples } = watched.tell();
  expect(outages).toMatchObject([{ tag: null, cause: 'collector', within: true }]);
  // Nobody takes the last value for the present: right behind it the tag is Bad.
  const bad = samples.filter(([, , status]) => status === Status.BadNotConnected);
  expect(bad).toHaveLength(1);
  expect(bad[0]![1]).toBeCloseTo(10, 3);
  // No read was made up: one at once and one a second, but for the time of the stop.
  expect(samples.filter(([, , status]) => status === Status.Good)).toHaveLength(16);
});

test('a process that is stopped in the middle of a read blames nobody but itself', async () => {
  let release: (() => void) | null = null;
  let holding = false;
  const watched = new Watched(
    [1000],
    deviceOf(async (tags) => {
      if (holding) await new Promise<void>((done) => (release = done));
      return readings(tags);
    }),
  );
  await watched.time.run(9_900);
  holding = true;
  await watched.time.run(200);
  expect(release).not.toBeNull();
  watched.time.freeze(4_000);
  // What was due meanwhile comes before the answer that has waited at the socket.
  await watched.time.run(1_000);
  holding = false;
  release!();
  await watched.time.run(3_000);
  expect(watched.tell().outages.map(({ cause, sentence }) => [cause, sentence])).toEqual([
    ['collector', expect.stringContaining('The collector did not read for a while')],
  ]);
});

test('a clock that is set forward, or a machine that slept, leaves a gap that says so; stamps follow the clock', async () => {
  const watched = new Watched([1000]);
  await watched.time.run(5_000);
  watched.time.setClock(3_600_000);
  await watched.time.run(5_000);
  const { outages, samples } = watched.tell();
  expect(outages).toMatchObject([
    { cause: 'clock', within: true, sentence: expect.stringContaining('forward by 3600 s') },
  ]);
  const covered = watched.covered();
  expect(covered).toHaveLength(2);
  expect(covered[0]![1]).toBeLessThan(5.1);
  expect(covered[1]![0]).toBeGreaterThan(3604);
  const good = samples.filter(([, , status]) => status === Status.Good).map(([, second]) => second);
  expect(good.at(-1)).toBeGreaterThan(3608);
  expect(good.every((second) => second < 6 || second > 3604)).toBe(true);
});

test('a clock that is set back goes on being read at once, and what it makes ambiguous is recorded', async () => {
  const watched = new Watched([1000]);
  await watched.time.run(5_000);
  watched.time.setClock(-3_600_000);
  const before = watched.tell().samples.length;
  await watched.time.run(5_000);
  const { outages, samples } = watched.tell();
  expect(samples.length - before).toBeGreaterThanOrEqual(4);
  expect(samples.at(-1)![1]).toBeLessThan(-3580);
  expect(outages).toMatchObject([{ cause: 'clock', sentence: expect.stringContaining('set back by 3600 s') }]);
  const [{ from, to }] = outages as [OutageSpan];
  expect([watched.time.seconds(from), watched.time.seconds(to!)]).toEqual([
    expect.closeTo(-3595, 0),
    expect.closeTo(5, 0),
  ]);
});

test('a small step, as time servers make them, is followed without a word', async () => {
  const watched = new Watched([1000]);
  await watched.time.run(5_000);
  watched.time.setClock(120);
  await watched.time.run(5_000);
  watched.time.setClock(-90);
  await watched.time.run(5_000);
  expect(watched.tell().outages).toEqual([]);
  expect(watched.covered()).toHaveLength(1);
});

test('a device that takes longer than the interval leaves holes of its own tags, not of those that were read', async () => {
  let slow = false;
  const driver = deviceOf(async (tags) => {
    if (slow && tags[0]!.id === 1) await new Promise((done) => setTimeout(done, 3_700));
    return readings(tags);
  });
  const watched = new Watched([1000, 2000], driver);
  await watched.time.run(6_100);
  slow = true;
  await watched.time.run(2_000);
  slow = false;
  await watched.time.run(8_000);
  const { outages } = watched.tell();
  expect(outages.length).toBeGreaterThan(0);
  expect(outages.every(({ tag, cause, within }) => tag === 1 && cause === 'source' && within)).toBe(true);
  expect(watched.covered(2)).toHaveLength(1);
  expect(watched.covered(1).length).toBeGreaterThan(1);
});

test('a source that is taken out while it connects is not polled on', async () => {
  let reads = 0;
  let connected!: () => void;
  const driver = deviceOf(
    (tags) => {
      reads++;
      return Promise.resolve(readings(tags));
    },
    new Promise<void>((resolve) => (connected = resolve)),
  );
  const watched = new Watched([1000], driver);
  watched.watcher.stop('The source was taken out of the configuration.');
  connected();
  await watched.time.run(5_000);
  expect(reads).toBe(0);
  expect(watched.tell().samples).toHaveLength(1);
});

test('a source that goes away and comes back is one outage, from its last read to its next', async () => {
  let away = false;
  const driver = deviceOf((tags) =>
    away
      ? Promise.reject(new SourceAway('Nothing answers.', 'ECONNREFUSED', Status.BadNoCommunication))
      : Promise.resolve(readings(tags)),
  );
  const watched = new Watched([1000], driver);
  await watched.time.run(5_100);
  away = true;
  await watched.time.run(4_000);
  away = false;
  await watched.time.run(5_000);
  const covered = watched.covered();
  expect(covered).toHaveLength(2);
  expect(covered[0]![1]).toBeLessThan(6.1);
  expect(covered[1]![0]).toBeGreaterThan(8.9);
  const last = watched.tell().outages.at(-1)!;
  expect(last).toMatchObject({ cause: 'source', code: 'ECONNREFUSED', within: false });
  expect(last.to).not.toBeNull();
});

describe('beats', () => {
  test('a missed one leaves a hole from the last to the next; a late one is none', () => {
    const beats = new Beats(1_000_000);
    expect([1, 2, 3, 5, 6].map((second) => beats.note(second * 1_000_000))).toEqual([
      null,
      null,
      null,
      { from: 3_000_000, to: 5_000_000 },
      null,
    ]);
    expect([isOnBeat(1_000_000, 1_900_000), isOnBeat(1_000_000, 2_100_000)]).toEqual([true, false]);
  });
  test('of less than a second are missed reads, not holes in the watch', () => {
    const beats = new Beats(50_000);
    expect([0, 50, 400, 1_350, 2_400].map((at) => beats.note(at * 1000))).toEqual([
      null,
      null,
      null,
      null,
      { from: 1_350_000, to: 2_400_000 },
    ]);
  });
});

describe('a pace', () => {
  test('beats at whole multiples, does not make up for what it slept through, and follows a clock that is set back', async () => {
    const time = new QuickTime();
    const clock = new Clock(time.wall, time.counter);
    const due: number[] = [];
    const pace = new Pace(1000, true, (at) => due.push(time.seconds(at * 1000)), clock.now);
    await time.run(3_500);
    expect(due).toEqual([0, 1, 2, 3]);
    time.freeze(4_000);
    await time.run(1_000);
    // Of the four beats that it slept through none is made up for.
    expect(due).toEqual([0, 1, 2, 3, 8]);
    time.setClock(-100_000);
    await time.run(2_500);
    pace.stop();
    expect(due.slice(5)).toEqual([-91, -90, -89]);
    await time.run(3_000);
    expect(due).toHaveLength(8);
  });
});

test('values of every type arrive as they were read: numbers, 64-bit integers, texts, and none', async () => {
  const gathering = new Gathering();
  const values: Value[] = [1.5, -0, 9_007_199_254_740_993n, -9_223_372_036_854_775_808n, 'open', '', null, 42n];
  values.forEach((value, i) => gathering.sample(i + 1, 1000 + i, value, value === null ? Status.Bad : Status.Good));
  // What could not be written is held, and is the same afterwards.
  gathering.putBack(gathering.take());
  const { frames } = gathering.take();
  const [numbers, texts] = frames.map((frame) => decodeFrame(encodeFrame({ ...frame, origins: null })));
  const numberAt = (tag: number): Value => {
    const at = [...numbers!.tags!].indexOf(tag);
    const value = numbers!.values[at]!;
    return Number.isNaN(value) ? null : (wholeAt(numbers!, at) ?? value);
  };
  expect([1, 2, 3, 4, 7, 8].map(numberAt)).toEqual([
    1.5,
    -0,
    9_007_199_254_740_993n,
    -9_223_372_036_854_775_808n,
    null,
    42,
  ]);
  expect([...texts!.tags!].map((tag, i) => [tag, texts!.texts[texts!.values[i]!]])).toEqual([
    [5, 'open'],
    [6, ''],
  ]);
  await Promise.resolve();
});

test('texts and 64-bit integers are filtered as what they are', async () => {
  const told: Value[] = ['off', 'off', 'on', 'on', 'off'];
  let at = 0;
  const watched = new Watched(
    [1000],
    deviceOf((tags) => Promise.resolve(readings(tags, () => told[Math.min(at++, 4)]!))),
  );
  const source = sourceOf([1000]);
  const [tag] = source.tags;
  watched.watcher.update(
    { ...source, tags: [{ ...tag!, reading: { ...tag!.reading, deadband: { kind: 'absolute', width: 1 } } }] },
    2,
  );
  await watched.time.run(6_000);
  // Read once to prove the connection, then on each beat; kept where it changed.
  expect(watched.tell().samples.length).toBe(3);
});

test('one tag changed among ten thousand disturbs none of the others', async () => {
  const tags = 10_000;
  const reads = new Map<number, number>();
  const kind = deviceOf((asked) => {
    for (const { id } of asked) reads.set(id, (reads.get(id) ?? 0) + 1);
    return Promise.resolve(readings(asked));
  });
  const watched = new Watched(
    Array.from({ length: tags }, () => 1000),
    kind,
  );
  await watched.time.run(3_000);
  const source = sourceOf(Array.from({ length: tags }, () => 1000));
  const changed = source.tags.map((tag) =>
    tag.id === 77 ? { ...tag, reading: { ...tag.reading, intervalMilliseconds: 500 } } : tag,
  );
  watched.watcher.update({ ...source, tags: changed }, 2);
  await watched.time.run(3_000);
  watched.watcher.update({ ...source, tags: source.tags.filter(({ id }) => id !== 78) }, 3);
  await watched.time.run(2_000);
  const { outages, samples } = watched.tell();
  // One watch without a hole, under three versions; of the others every second has its value.
  expect(outages).toEqual([]);
  expect(watched.covered()).toHaveLength(1);
  const kept = new Map<number, number>();
  for (const [tag, , status] of samples) if (status === Status.Good) kept.set(tag, (kept.get(tag) ?? 0) + 1);
  const others = [...kept].filter(([tag]) => tag !== 77 && tag !== 78).map(([, count]) => count);
  expect(others).toHaveLength(tags - 2);
  expect([Math.min(...others), Math.max(...others)]).toEqual([others[0], others[0]]);
  expect(others[0]).toBeGreaterThanOrEqual(8);
  // The one that was taken out has a last sample that says so.
  expect(samples.filter(([tag, , status]) => tag === 78 && status === Status.BadOutOfService)).toHaveLength(1);
});
