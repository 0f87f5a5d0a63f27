import { Temporal } from '@js-temporal/polyfill';
import fc from 'fast-check';
import {
  DAY,
  HOUR,
  cutIntoBuckets,
  describeLength,
  formatInstant,
  parseInstant,
  parseInterval,
  resolveTime,
  type Interval,
} from '../../src/index.ts';

describe('instants', () => {
  // RFC 3339, section 5.8 examples (from memory).
  test.each([
    ['1985-04-12T23:20:50.52Z', '1985-04-12T23:20:50.520Z'],
    ['1996-12-19T16:39:57-08:00', '1996-12-20T00:39:57.000Z'],
    ['1990-12-31T23:59:60Z', '1991-01-01T00:00:00.000Z'],
    ['1937-01-01T12:00:27.87+00:20', '1937-01-01T11:40:27.870Z'],
    ['2026-01-01T00:00:00.123456Z', '2026-01-01T00:00:00.123456Z'],
  ])('%s is %s', (text, utc) => {
    expect(formatInstant(parseInstant(text)!)).toBe(utc);
  });

  test.each([
    '2026-02-30T00:00:00Z',
    '2026-01-01 00:00',
    '2026-01-01T00:00:00',
    '2026-13-01T00:00:00Z',
    '2026-01-01T24:00:00Z',
    '',
  ])('%p is none', (text) => {
    expect(parseInstant(text)).toBeUndefined();
  });

  test('survive writing and reading to the microsecond', () => {
    fc.assert(
      fc.property(fc.integer({ min: -6e16, max: 9e15 }).filter(Number.isSafeInteger), (micros) => {
        expect(parseInstant(formatInstant(micros))).toBe(micros);
      }),
    );
  });

  test('are written as Date writes them, with what is beyond its milliseconds', () => {
    // Several in a row, so that days that come again and days that do not are both met.
    const instants = fc.array(fc.integer({ min: -2_000_000_000_000_000, max: 9_000_000_000_000_000 }), {
      minLength: 1,
    });
    fc.assert(
      fc.property(instants, fc.nat(3 * DAY), (given, step) => {
        for (const micros of given.flatMap((one) => [one, one + step, one])) {
          const milliseconds = Math.floor(micros / 1000);
          const beyond = micros - milliseconds * 1000;
          const text = new Date(milliseconds).toISOString();
          const expected = beyond === 0 ? text : `${text.slice(0, -1)}${String(beyond).padStart(3, '0')}Z`;
          expect(formatInstant(micros)).toBe(expected);
        }
      }),
    );
  });

  test('relative times are resolved against the given present', () => {
    expect(resolveTime('now-6h', 10 * HOUR)).toBe(4 * HOUR);
    expect(resolveTime('now', 5)).toBe(5);
    expect(resolveTime('yesterday', 5)).toBeUndefined();
  });
});

describe('durations', () => {
  test.each<[string, Interval | undefined]>([
    ['PT1H', { kind: 'fixed', micros: HOUR }],
    ['PT24H', { kind: 'fixed', micros: DAY }],
    ['PT0S', { kind: 'fixed', micros: 0 }],
    ['PT0.5S', { kind: 'fixed', micros: 500_000 }],
    ['P1D', { kind: 'calendar', unit: 'day', count: 1 }],
    ['P1M', { kind: 'calendar', unit: 'month', count: 1 }],
    ['PT1M', { kind: 'fixed', micros: 60_000_000 }],
    ['P1DT1H', undefined],
    ['1h', undefined],
    ['PT', undefined],
    ['P', undefined],
  ])('%s', (text, interval) => {
    expect(parseInterval(text)).toEqual(interval);
  });

  test('read as people say them', () => {
    expect(describeLength(2 * HOUR + 14 * 60_000_000)).toBe('2 h 14 min');
    expect(describeLength(59_999_999)).toBe('1 min');
    expect(describeLength(250_000)).toBe('250 ms');
  });
});

const at = (text: string): number => parseInstant(text)!;
const day: Interval = { kind: 'calendar', unit: 'day', count: 1 };

describe('buckets', () => {
  // Days of 23 and 25 hours, Europe/Berlin 2025 and 2026: EU rule, last Sunday of March and October, 01:00 UTC.
  test.each([
    ['2025-03-29T23:00:00Z', 23],
    ['2025-10-25T22:00:00Z', 25],
    ['2026-03-28T23:00:00Z', 23],
    ['2026-10-24T22:00:00Z', 25],
  ])('the day that starts at %s has %d hours in Berlin', (start, hours) => {
    const [bucket] = cutIntoBuckets(at(start), at(start) + 3 * DAY, day, 'Europe/Berlin');
    expect(bucket).toEqual({ begin: at(start), finish: at(start) + hours * HOUR, truncated: false });
  });

  test('agree with a second calendar (Temporal polyfill) on half-hour changes', () => {
    const buckets = cutIntoBuckets(at('2026-03-31T13:00:00Z'), at('2026-04-09T13:30:00Z'), day, 'Australia/Lord_Howe');
    for (const { begin } of buckets) {
      const local = Temporal.Instant.fromEpochMilliseconds(begin / 1000).toZonedDateTimeISO('Australia/Lord_Howe');
      expect([local.hour, local.minute]).toEqual([0, 0]);
    }
    expect(buckets.map((b) => (b.finish - b.begin) / HOUR)).toContain(24.5);
  });

  test('fixed intervals: the last one is the shorter rest, in reverse at the early end', () => {
    const forward = cutIntoBuckets(0, 100, { kind: 'fixed', micros: 30 }, 'UTC');
    expect(forward.at(-1)).toEqual({ begin: 90, finish: 100, truncated: true });
    const reverse = cutIntoBuckets(100, 0, { kind: 'fixed', micros: 30 }, 'UTC');
    expect(reverse[0]).toEqual({ begin: 100, finish: 70, truncated: false });
    expect(reverse.at(-1)).toEqual({ begin: 10, finish: 0, truncated: true });
    expect(cutIntoBuckets(0, 100, { kind: 'fixed', micros: 0 }, 'UTC')).toEqual([
      { begin: 0, finish: 100, truncated: false },
    ]);
    expect(() => cutIntoBuckets(5, 5, { kind: 'fixed', micros: 1 }, 'UTC')).toThrow(RangeError);
  });

  test('tile their window without hole or overlap', () => {
    const unit = fc.constantFrom('day', 'week', 'month', 'year' as const);
    fc.assert(
      fc.property(
        unit,
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 1.4e9, max: 1.9e9 }),
        fc.integer({ min: 1, max: 4e7 }),
        (u, count, start, length) => {
          const from = start * 1e6;
          const to = from + length * 1e6;
          const buckets = cutIntoBuckets(from, to, { kind: 'calendar', unit: u, count }, 'America/New_York');
          expect(buckets[0]!.begin).toBe(from);
          expect(buckets.at(-1)!.finish).toBe(to);
          buckets.slice(1).forEach((bucket, i) => expect(bucket.begin).toBe(buckets[i]!.finish));
        },
      ),
    );
  });
});
