/** Rehearsals of outages: by arithmetic that can be done by hand, and by laws. */
import fc from 'fast-check';
import {
  adviceFor,
  lostOf,
  rehearse,
  untilFull,
  type RehearsedFault,
  type RehearsedSource,
  type Scenario,
} from '../../src/index.ts';

const HOUR = 3600;
const source = (over: Partial<RehearsedSource> = {}): RehearsedSource => ({
  name: 'S',
  valuesPerSecond: 10,
  remembers: 20_000,
  remembersPerSecond: 10,
  mode: 'by itself',
  valuesPerCall: 10,
  callsPerSecond: 20,
  newestFirst: false,
  standby: false,
  ...over,
});
const collector = { spoolBytes: 1e9, bytesPerValue: 20, heldInMemory: 2_000_000, deliversPerSecond: 50_000 };
const fault = (kind: RehearsedFault['kind'], at: number, lasts: number, of: number | null = 0): RehearsedFault => ({
  kind,
  source: of,
  at,
  lasts,
});
const scenario = (sources: readonly RehearsedSource[], ...faults: readonly RehearsedFault[]): Scenario => ({
  sources,
  collector,
  faults,
});
const fatesOf = (played: Scenario) =>
  rehearse(played).outcomes[0]!.fates.map(({ from, to, fate, why }) => [Math.round(from), Math.round(to), fate, why]);

test('a short cut is fetched whole, and caught up in its time', () => {
  // 1,000 s at 10 values/s are 10,000 values; 20 calls of 10 a second fetch them in 50 s.
  const played = rehearse(scenario([source()], fault('line cut', 100, 1000)));
  expect(played.outcomes[0]).toEqual({
    fates: [{ from: 100, to: 1100, fate: 'recovered', why: 'fetched' }],
    caughtUpAt: 1150,
  });
});

test('what a memory does not reach is lost, at the beginning, and what is pushed out while it is fetched', () => {
  // It remembers 2,000 s. Of a cut of 3,000 s the first 1,000 are gone when the line is back.
  const [lost, recovered] = fatesOf(scenario([source()], fault('line cut', HOUR, 3000)));
  expect(lost).toEqual([HOUR, HOUR + 1000, 'lost', 'overwritten']);
  expect(recovered).toEqual([HOUR + 1000, HOUR + 3000, 'recovered', 'fetched']);
  // Newest first, the oldest are pushed out meanwhile: 2,000 s in calls of 200 values a second last 100 s, less what goes.
  const newest = fatesOf(scenario([source({ newestFirst: true })], fault('line cut', HOUR, 3000)));
  expect(newest[0]![1]).toBeGreaterThan(HOUR + 1080);
  expect(newest[0]![1]).toBeLessThan(HOUR + 1100);
});

test.each([
  ['a device that remembers nothing', source({ remembers: null }), 'no memory'],
  ['one that nobody asks', source({ mode: 'on demand' }), 'not asked for'],
] as const)('%s loses all of a cut', (_what, one, why) => {
  expect(fatesOf(scenario([one], fault('line cut', 60, 30)))).toEqual([[60, 90, 'lost', why]]);
});

test('a memory that is lost in the middle of a cut takes along what it held; a device that is off has nothing to lose', () => {
  const fates = fatesOf(scenario([source()], fault('line cut', 100, 100), fault('memory lost', 150, 0)));
  expect(fates).toEqual([
    [100, 150, 'lost', 'memory lost'],
    [150, 200, 'recovered', 'fetched'],
  ]);
  expect(fatesOf(scenario([source()], fault('device off', 100, 100)))).toEqual([
    [100, 200, 'nothing to lose', 'device off'],
  ]);
});

test('a collector that is off is made up for by a standby, or by the memory of the device', () => {
  const off = fault('collector off', 10, 100, null);
  expect(fatesOf(scenario([source({ standby: true })], off))).toEqual([]);
  expect(fatesOf(scenario([source()], off))).toEqual([[10, 110, 'recovered', 'fetched']]);
  expect(fatesOf(scenario([source({ remembers: null })], off))).toEqual([[10, 110, 'lost', 'no memory']]);
});

test('while the server is away the spool fills; without room memory holds some, and then it is lost', () => {
  const away = rehearse(scenario([source({ valuesPerSecond: 1000 })], fault('server away', 0, HOUR, null)));
  expect(away.outcomes[0]!.fates).toEqual([]);
  expect(away.spoolPeak).toBeCloseTo(HOUR * 1000 * 20, -5);
  // 3.6 million values are delivered at 50,000 a second, and 1,000 come meanwhile.
  expect(away.deliveredAt! - HOUR).toBeCloseTo(3600 / 49, -1);
  const full = { ...scenario([source({ valuesPerSecond: 1000 })], fault('disk full', 0, HOUR, null)) };
  // Two million values last for 2,000 s.
  expect(fatesOf(full)).toEqual([[2000, HOUR, 'lost', 'no room']]);
});

test('what is not recorded is told once, and lasts as long as it was not', () => {
  const faults = fc.array(
    fc.record({
      kind: fc.constantFrom('line cut' as const, 'device off' as const, 'collector off' as const),
      source: fc.constant(null),
      at: fc.integer({ min: 0, max: 600 }),
      lasts: fc.integer({ min: 0, max: 300 }),
    }),
    { minLength: 1, maxLength: 5 },
  );
  const sources = fc.record({
    remembers: fc.option(fc.integer({ min: 0, max: 5000 })),
    newestFirst: fc.boolean(),
    callsPerSecond: fc.integer({ min: 1, max: 20 }),
  });
  fc.assert(
    fc.property(sources, faults, (over, script) => {
      const { outcomes } = rehearse(scenario([source(over)], ...script));
      const fates = [...outcomes[0]!.fates].sort((a, b) => a.from - b.from);
      for (const [i, { from }] of fates.entries())
        if (i > 0) expect(from).toBeGreaterThanOrEqual(fates[i - 1]!.to - 1e-6);
      const told = fates.reduce((sum, { from, to }) => sum + to - from, 0);
      let away = 0;
      for (let second = 0; second < 1000; second++)
        if (script.some(({ at, lasts }) => second >= at && second < at + lasts)) away++;
      expect(told).toBeCloseTo(away, 3);
    }),
    { numRuns: 150 },
  );
});

test('more of anything never loses more', () => {
  const numbers = fc.record({
    remembers: fc.integer({ min: 0, max: 30_000 }),
    more: fc.integer({ min: 0, max: 10_000 }),
    calls: fc.integer({ min: 1, max: 5 }),
    lasts: fc.integer({ min: 1, max: 3000 }),
  });
  fc.assert(
    fc.property(numbers, ({ remembers, more, calls, lasts }) => {
      const lost = (over: Partial<RehearsedSource>): number =>
        lostOf(rehearse(scenario([source(over)], fault('line cut', 500, lasts))).outcomes[0]!);
      const before = lost({ remembers, callsPerSecond: calls });
      expect(lost({ remembers: remembers + more, callsPerSecond: calls })).toBeLessThanOrEqual(before + 1e-6);
      expect(lost({ remembers, callsPerSecond: calls + 1 })).toBeLessThanOrEqual(before + 1e-6);
    }),
    { numRuns: 60 },
  );
});

describe('advice', () => {
  const advised = (played: Scenario) => adviceFor(played, rehearse(played));
  test('where nothing is lost, none', () => {
    expect(advised(scenario([source()], fault('line cut', 0, 60)))).toEqual([]);
  });
  test('names the least memory that saves all of it, as the calculator has it', () => {
    const cut = scenario([source({ remembers: null })], fault('line cut', 100, HOUR));
    const [remember] = advised(cut);
    expect(remember).toMatchObject({ source: 0, change: 'remember', lost: 0 });
    // It has to last for the cut, and a little for what is pushed out while it is fetched.
    const lasts = untilFull({ capacity: remember!.value!, held: 0, valuesPerSecond: 10 });
    expect(lasts).toBeGreaterThanOrEqual(HOUR);
    expect(lasts).toBeLessThan(HOUR + 10);
    const with_ = { ...cut, sources: [source({ remembers: remember!.value })] };
    expect(lostOf(rehearse(with_).outcomes[0]!)).toBe(0);
  });
  test('asks for it, calls more often, stands by: whatever helps, with what is lost all the same', () => {
    expect(advised(scenario([source({ mode: 'off' })], fault('line cut', 0, 3000)))).toMatchObject([
      { change: 'recover by itself', lost: expect.closeTo(1000, -1) as unknown },
    ]);
    // One call of ten values a second is no faster than what comes: the beginning is pushed out.
    const slow = advised(scenario([source({ callsPerSecond: 1, newestFirst: true })], fault('line cut', 3000, 1900)));
    expect(slow.find(({ change }) => change === 'calls a second')).toMatchObject({ lost: 0 });
    const off = scenario([source({ remembers: null })], fault('collector off', 0, 100, null));
    expect(advised(off).map(({ change, lost }) => [change, lost])).toEqual([
      ['standby', 0],
      ['remember', 0],
    ]);
  });
  test('is given against all that goes wrong at once', () => {
    const sources = [source({ remembers: null, valuesPerSecond: 1000 }), source({ name: 'T', valuesPerSecond: 1000 })];
    const both = scenario(sources, fault('collector off', 0, 100, null), fault('disk full', 200, 2000, null));
    const alone = advised(both).filter(({ source: of }) => of === 0);
    // What the disk had no room for a standby does not save; memory holds a thousand seconds of both.
    expect(alone.find(({ change }) => change === 'standby')!.lost).toBeCloseTo(1000, -1);
    // And no room of a spool helps where the disk is full.
    expect(advised(both).some(({ change }) => change === 'spool')).toBe(false);
  });
  test('names the room that a spool needs', () => {
    const small = {
      ...scenario([source({ valuesPerSecond: 5000 })], fault('server away', 0, HOUR, null)),
      collector: { ...collector, spoolBytes: 1e6, heldInMemory: 1000 },
    };
    const spool = advised(small).find(({ change }) => change === 'spool');
    expect(spool!.lost).toBe(0);
    expect(spool!.value).toBeCloseTo(HOUR * 5000 * 20, -6);
  });
});
