import fc from 'fast-check';
import {
  CounterPass,
  HOUR,
  MINUTE,
  SECOND,
  StatePass,
  Status,
  counterStep,
  cutIntoBuckets,
  parseInstant,
  parseInterval,
  intervalName,
  type Columns,
} from '../../src/index.ts';
import { integralFactor, integralUnit } from '../../src/computations/units.ts';

const columns = (rows: readonly (readonly [second: number, value: number, status?: number])[]): Columns => ({
  times: Float64Array.from(rows, ([second]) => second * SECOND),
  values: Float64Array.from(rows, ([, value]) => value),
  status: Uint32Array.from(rows, ([, , status = 0]) => status),
});

describe('a counter', () => {
  const totals = (
    rows: Parameters<typeof columns>[0],
    edges: number[],
    rollOver: number | null = 65536,
    largestStep: number | null = null,
  ) => {
    const pass = new CounterPass(
      Float64Array.from(edges, (edge) => edge * SECOND),
      { rollOver, largestStep },
    );
    pass.take(columns(rows));
    return pass.finish();
  };

  test('that falls has wrapped where the way over its roll-over value is plausible, otherwise it was reset', () => {
    const step = (before: number, after: number, rollOver: number | null, largest = Infinity) =>
      counterStep(after - before, after, rollOver === null ? null : rollOver - before + after, largest);
    expect(step(65530, 4, 65536)).toEqual({ step: 'wrap', counted: 10 });
    expect(step(40_000, 10_000, 65536)).toEqual({ step: 'wrap', counted: 35_536 });
    expect(step(40_000, 10_000, 65536, 5000)).toEqual({ step: 'reset', counted: 10_000 });
    expect(step(65530, 4, null)).toEqual({ step: 'reset', counted: 4 });
    expect(step(4, 4, 65536)).toEqual({ step: 'count', counted: 0 });
  });

  test('is judged by what it was seen to count, where nobody says what is plausible', () => {
    const kinds = (rows: [number, number][], largest: number | null = null) =>
      totals(rows, [0, 100], 65536, largest).map(({ wraps, resets }) => [wraps, resets])[0];
    // Two readings alone: any step is plausible.
    expect(
      kinds([
        [0, 40_000],
        [10, 10_000],
      ]),
    ).toEqual([1, 0]);
    // It counted 100 in ten seconds: 35,476 more in the next ten are none of its own.
    expect(
      kinds([
        [0, 30_000],
        [10, 30_100],
        [20, 40],
      ]),
    ).toEqual([0, 1]);
    expect(
      kinds(
        [
          [0, 30_000],
          [10, 30_100],
          [20, 40],
        ],
        40_000,
      ),
    ).toEqual([1, 0]);
    // A counter of 16 bits that is read rarely.
    expect(
      kinds([
        [0, 0],
        [10, 30_000],
        [20, 60_000],
        [30, 25_000],
      ]),
    ).toEqual([1, 0]);
  });

  test('of 64 bits is counted to the last unit', () => {
    const pass = new CounterPass(Float64Array.of(0, 10 * SECOND), { rollOver: null, largestStep: null });
    const wholes = BigInt64Array.of(9_007_199_254_740_993n, 9_007_199_254_740_996n);
    pass.take(
      columns([
        [0, Number(wholes[0])],
        [10, Number(wholes[1])],
      ]),
      wholes,
    );
    expect(pass.finish()).toEqual([{ value: 3, status: Status.Good, wraps: 0, resets: 0 }]);
  });

  test('of fractions is counted as they are, also where 64-bit integers of other tags came in the same frame', () => {
    const pass = new CounterPass(Float64Array.of(0, 10 * SECOND), { rollOver: null, largestStep: null });
    pass.take(
      columns([
        [0, 1.25],
        [10, 4.5],
      ]),
      BigInt64Array.of(0n, 0n),
    );
    expect(pass.finish()).toEqual([{ value: 3.25, status: Status.Good, wraps: 0, resets: 0 }]);
  });

  test('is counted over a wrap, and is Uncertain over a reset', () => {
    expect(
      totals(
        [
          [0, 65000],
          [10, 65500],
          [20, 464],
        ],
        [0, 20],
      ),
    ).toEqual([{ value: 1000, status: Status.Good, wraps: 1, resets: 0 }]);
    expect(
      totals(
        [
          [0, 30000],
          [10, 30100],
          [20, 40],
        ],
        [0, 20],
      ),
    ).toEqual([{ value: 140, status: Status.UncertainDataSubNormal, wraps: 0, resets: 1 }]);
  });

  test('passes over a Bad reading and says that it did', () => {
    expect(
      totals(
        [
          [0, 1],
          [10, 999, Status.Bad],
          [20, 5],
        ],
        [0, 20],
      ),
    ).toEqual([{ value: 4, status: Status.UncertainDataSubNormal, wraps: 0, resets: 0 }]);
  });

  test('counts what really ran through it, whatever the readings, and intervals add up to the whole', () => {
    const steps = fc.array(fc.integer({ min: 0, max: 400 }), { minLength: 2, maxLength: 60 });
    fc.assert(
      fc.property(steps, fc.integer({ min: 0, max: 999 }), (increments, start) => {
        let run = start;
        const rows = increments.map((increment, i): [number, number] => [i * 7, (run += increment) % 1000]);
        const end = (increments.length - 1) * 7;
        const [whole] = totals(rows, [0, end], 1000, 400);
        const truth = increments.slice(1).reduce((sum, one) => sum + one, 0);
        expect(whole!.value).toBeCloseTo(truth, 6);
        const parts = totals(rows, [0, end / 3, end / 2, end], 1000, 400);
        expect(parts.reduce((sum, { value }) => sum + value, 0)).toBeCloseTo(truth, 6);
      }),
    );
  });
});

test('states last until the next one, starts are changes into them, time without a known state is in none', () => {
  const pass = new StatePass(Float64Array.of(0, 100 * SECOND, 200 * SECOND));
  pass.take(
    columns([
      [-10, 1],
      [20, 0],
      [50, 1],
      [60, 1],
      [70, 0, Status.Bad],
      [90, 1],
      [120, 2],
    ]),
  );
  const [first, second] = pass.finish(160 * SECOND);
  // Running before and after the outage is one run: no start at 90.
  expect(Object.fromEntries(first!.states)).toEqual({
    0: { time: 30 * SECOND, uncertain: 0, starts: 1 },
    1: { time: 50 * SECOND, uncertain: 0, starts: 1 },
  });
  expect([first!.good, first!.uncertain, first!.unknown]).toEqual([80 * SECOND, 0, 20 * SECOND]);
  expect(first!.onPercent).toBeCloseTo(62.5, 9);
  expect([...second!.states]).toEqual([
    [1, { time: 20 * SECOND, uncertain: 0, starts: 0 }],
    [2, { time: 40 * SECOND, uncertain: 0, starts: 1 }],
  ]);
});

test('time in an Uncertain state is known, and told apart', () => {
  const pass = new StatePass(Float64Array.of(0, 100 * SECOND));
  pass.take(
    columns([
      [0, 1],
      [10, 1, Status.Uncertain],
      [40, 0],
      [60, 0, Status.Bad],
      [90, 0],
    ]),
  );
  const [only] = pass.finish(100 * SECOND);
  expect([only!.good, only!.uncertain, only!.unknown]).toEqual([40, 30, 30].map((seconds) => seconds * SECOND));
  expect(only!.states.get(1)).toEqual({ time: 40 * SECOND, uncertain: 30 * SECOND, starts: 0 });
});

describe('units', () => {
  test.each([
    ['m³/h', 'm³', 1 / 3600],
    ['m3/h', 'l', 1000 / 3600],
    ['l/min', 'm3', 1 / 60_000],
    // 1 kWh = 3.6 MJ (BIPM, SI brochure, table 8).
    ['kW', 'MJ', 3.6 / 3600],
    ['kW', 'kWh', 1 / 3600],
    ['kg/s', 't', 0.001],
    ['Nm³/h', 'Nm³', 1 / 3600],
    ['m³/d', 'm³', 1 / 86_400],
    ['m3/d', 'l', 1000 / 86_400],
    // NIST SP 811 (2008), B.8: gallon (US) 3.785411784 L, cubic foot 0.028316846592 m³, barrel of 42 US gallons.
    ['gpm', 'l', 3.785411784 / 60],
    ['gpm', 'gal', 1 / 60],
    ['ft³/s', 'm³', 0.028316846592],
    ['bbl/d', 'm3', 0.158987294928 / 86_400],
    ['bbl/d', 'gal', 42 / 86_400],
  ])('%s over a second is so many %s', async (rate, into, factor) => {
    expect(await integralFactor(rate, into)).toBeCloseTo(factor, 15);
  });
  test('that do not measure the same are refused in a sentence', async () => {
    await expect(integralFactor('m3/h', 'kg')).rejects.toThrow('m3/h over time does not add up to kg.');
    // Gas at normal conditions is no volume at others.
    await expect(integralFactor('Nm³/h', 'm³')).rejects.toThrow('Nm³/h over time does not add up to m³.');
    await expect(integralFactor('', 'kWh')).rejects.toThrow(
      'A number without a unit over time does not add up to kWh.',
    );
  });
  test('the usual one of a rate', () => {
    expect(['m³/h', 'kW', 'bar', 'Nm³/h', 'm³/d', 'gpm', 'ft³/s', 'bbl/d'].map(integralUnit)).toEqual([
      'm³',
      'kWh',
      'bar s',
      'Nm³',
      'm³',
      'gal',
      'ft³',
      'bbl',
    ]);
  });
});

describe('calendar intervals', () => {
  const cut = (zone: string, from: string, to: string, interval: string): string[] =>
    cutIntoBuckets(parseInstant(from)!, parseInstant(to)!, parseInterval(interval)!, zone).map(
      ({ begin, finish }) => `${intervalName(begin, parseInterval(interval)!, zone)} ${(finish - begin) / MINUTE}`,
    );

  // IANA time zone database: days on which the clock is set, and half-hour changes on Lord Howe Island.
  test.each([
    ['Europe/Berlin', '2025-03-29T23:00:00Z', '2025-03-30T22:00:00Z', '2025-03-30 1380'],
    ['Europe/Berlin', '2025-10-25T22:00:00Z', '2025-10-26T23:00:00Z', '2025-10-26 1500'],
    ['Europe/Berlin', '2026-03-28T23:00:00Z', '2026-03-29T22:00:00Z', '2026-03-29 1380'],
    ['Europe/Berlin', '2026-10-24T22:00:00Z', '2026-10-25T23:00:00Z', '2026-10-25 1500'],
    ['America/New_York', '2026-03-08T05:00:00Z', '2026-03-09T04:00:00Z', '2026-03-08 1380'],
    ['Australia/Lord_Howe', '2026-04-04T13:00:00Z', '2026-04-05T13:30:00Z', '2026-04-05 1470'],
    ['Australia/Lord_Howe', '2025-10-04T13:30:00Z', '2025-10-05T13:00:00Z', '2025-10-05 1410'],
    ['Asia/Kathmandu', '2026-05-01T18:15:00Z', '2026-05-02T18:15:00Z', '2026-05-02 1440'],
  ])('a day in %s from %s', (zone, from, to, day) => {
    expect(cut(zone, from, to, 'day')).toEqual([day]);
  });

  // IANA time zone database: Samoa went from 29 to 31 December 2011.
  test.each([
    ['day', ['2011-12-29 1440', '2011-12-31 1440']],
    [
      'shift:00:00/12:00',
      [
        '2011-12-29 from 00:00 720',
        '2011-12-29 from 12:00 720',
        '2011-12-31 from 00:00 720',
        '2011-12-31 from 12:00 720',
      ],
    ],
  ])('a day that a zone has skipped is none: by %s', (interval, names) => {
    expect(cut('Pacific/Apia', '2011-12-29T10:00:00Z', '2011-12-31T10:00:00Z', interval)).toEqual(names);
  });

  test('hours follow the clock: one that is shown twice is two, one that is skipped is none', () => {
    expect(cut('Europe/Berlin', '2026-10-25T00:00:00Z', '2026-10-25T02:00:00Z', 'hour')).toEqual([
      '2026-10-25 02:00 +02:00 60',
      '2026-10-25 02:00 +01:00 60',
    ]);
    expect(cut('Europe/Berlin', '2026-03-29T00:00:00Z', '2026-03-29T02:00:00Z', 'hour')).toEqual([
      '2026-03-29 01:00 +01:00 60',
      '2026-03-29 03:00 +02:00 60',
    ]);
    expect(cut('Australia/Lord_Howe', '2026-04-04T14:00:00Z', '2026-04-04T16:30:00Z', 'hour')).toEqual([
      '2026-04-05 01:00 +11:00 60',
      '2026-04-05 01:30 +10:30 30',
      '2026-04-05 02:00 +10:30 60',
    ]);
  });

  test('shifts run over midnight and over a set clock', () => {
    expect(cut('Europe/Berlin', '2026-03-28T13:00:00Z', '2026-03-29T12:00:00Z', 'shift:three-shift')).toEqual([
      '2026-03-28 from 14:00 480',
      '2026-03-28 from 22:00 420',
      '2026-03-29 from 06:00 480',
    ]);
  });

  // ISO 8601: the week with the year's first Thursday is week 1.
  test.each([
    ['2005-01-01', '2004-W53'],
    ['2007-12-31', '2008-W01'],
    ['2008-12-29', '2009-W01'],
    ['2010-01-03', '2009-W53'],
    ['2020-12-31', '2020-W53'],
    ['2024-12-30', '2025-W01'],
    ['2026-12-31', '2026-W53'],
  ])('%s lies in week %s', (day, week) => {
    const at = parseInstant(`${day}T12:00:00Z`)!;
    const [bucket] = cutIntoBuckets(at, at + HOUR, parseInterval('week')!, 'UTC');
    expect(intervalName(bucket!.begin, parseInterval('week')!, 'UTC')).toBe(week);
  });

  test.each(['7 minutes', '5 hours', 'shift:14:00/06:00', 'shift:25:00', '0 days', 'fortnight'])(
    '"%s" is no interval',
    (text) => {
      expect(parseInterval(text)).toBeUndefined();
    },
  );
});
