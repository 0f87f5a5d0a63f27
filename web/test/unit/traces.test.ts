import type { CoverageAnswer, EnvelopeAnswer } from '@wide-ledger/contract';
import * as fc from 'fast-check';
import { DateTime } from 'luxon';
import { coverageOf } from '../../src/strip/coverageOf.ts';
import { bandOf, isSolid, pointsOf } from '../../src/traces/points.ts';
import { exportAddress, intervalFor, sqlFor } from '../../src/traces/requests.ts';
import type { TraceView } from '../../src/traces/useTraceView.ts';
import { ticksOf } from '../../src/window/ticks.ts';
import { windowWords, offsetOf, bothZones } from '../../src/window/times.ts';
import { hold, showLast, tick, toggleLive, useWindowState, windowParameters } from '../../src/window/windowStore.ts';
import { digitsOf, gradeOf, showAge, showBytes, showNumber, showValue } from '../../src/controls/values.ts';

describe('a trend', () => {
  const envelope = (gaps: EnvelopeAnswer['gaps']): EnvelopeAnswer => ({
    tag: 'T',
    from: 0,
    to: 100,
    samples: 3,
    times: [10, 20, 60],
    values: [1, 2, 3],
    gaps,
  });
  test('breaks at a gap, so that no line crosses what was not watched', () => {
    expect(pointsOf(envelope([{ from: 25, to: 50, sentence: '' }]))).toEqual([
      { x: 10, y: 1 },
      { x: 20, y: 2 },
      { x: 25, y: null },
      { x: 60, y: 3 },
    ]);
  });
  test('starts with its first value when a gap lies before it', () => {
    expect(pointsOf(envelope([{ from: 0, to: 5, sentence: '' }]))).toEqual([
      { x: 10, y: 1 },
      { x: 20, y: 2 },
      { x: 60, y: 3 },
    ]);
  });
});

describe('a line that would be a block of ink', () => {
  const wave = (value: (i: number) => number): EnvelopeAnswer => ({
    tag: 'T',
    from: 0,
    to: 1000,
    samples: 1_000_000,
    times: Array.from({ length: 1000 }, (_, i) => i),
    values: Array.from({ length: 1000 }, (_, i) => value(i)),
    gaps: [{ from: 500.5, to: 501, sentence: '' }],
  });
  test('is one that crosses its range all the time; a slope and a slow wave are not', () => {
    expect(isSolid(wave((i) => (i % 2 === 0 ? 0 : 65_535)))).toBe(true);
    expect(isSolid(wave((i) => i))).toBe(false);
    expect(isSolid(wave((i) => Math.sin(i / 100)))).toBe(false);
    // A counter of which all is drawn is a sawtooth that one can follow.
    expect(isSolid({ ...wave((i) => (i % 2 === 0 ? 0 : 65_535)), samples: 1000 })).toBe(false);
  });
  test('is drawn as its least and greatest by stretches, broken at gaps', () => {
    const { low, high } = bandOf(
      wave((i) => (i % 2 === 0 ? -i : i)),
      10,
    );
    expect(low).toHaveLength(high.length);
    expect(low[0]).toEqual({ x: 0, y: -98 });
    expect(high[0]).toEqual({ x: 0, y: 99 });
    expect(low.filter(({ y }) => y === null)).toEqual([{ x: 500.5, y: null }]);
    expect(low.every(({ x, y }, i) => high[i]!.x === x && (y === null || y <= high[i]!.y!))).toBe(true);
  });
});

describe('the interval of a table', () => {
  const minute = 60_000;
  test.each([
    ['an hour of a day', 'PT1H', 1440, 'PT1H'],
    ['an hour of two minutes: it would be longer than the window', 'PT1H', 2, 'PT10S'],
    ['an hour of a year: nobody reads so many rows', 'PT1H', 525_600, 'P1D'],
    ['a year of an hour', 'year', 60, '10 minutes'],
  ])('%s', (_what, chosen, minutes, taken) => {
    expect(intervalFor(chosen, { from: 0, to: minutes * minute })[0]).toBe(taken);
  });
});

describe('ticks of time', () => {
  const zone = 'Europe/Berlin';
  const at = (text: string): number => Date.parse(text);
  const shown = (from: string, to: string): string[] => {
    const { times, format } = ticksOf(at(from), at(to), zone);
    return times.map((time) => DateTime.fromMillis(time, { zone }).toFormat(format));
  };
  test('are round times of the zone’s clock, a dozen at most', () => {
    expect(shown('2026-11-26T03:51:07Z', '2026-11-26T03:53:07Z')).toEqual(
      ['51:10', '51:20', '51:30', '51:40', '51:50', '52:00', '52:10', '52:20', '52:30', '52:40', '52:50', '53:00'].map(
        (end) => `04:${end}`,
      ),
    );
    expect(shown('2026-11-26T10:01:30Z', '2026-11-26T16:01:30Z')[0]).toBe('11:30');
    expect(shown('2025-11-26T10:01:30Z', '2026-11-26T16:01:30Z')).toEqual([
      'Dec 2025',
      ...['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov'].map((name) => `${name} 2026`),
    ]);
  });
  test('stay round over both changes of the clock', () => {
    expect(shown('2026-03-28T20:00:00Z', '2026-03-29T20:00:00Z')).toEqual(
      ['22', '00', '04', '06', '08', '10', '12', '14', '16', '18', '20', '22'].map((hour) => `${hour}:00`),
    );
    expect(shown('2026-10-24T20:00:00Z', '2026-10-25T20:00:00Z')).toContain('00:00');
  });
  test('are within the window, ascending and few, whatever it is', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 4e12 }), fc.double({ min: 3, max: 13, noNaN: true }), (from, magnitude) => {
        const to = from + Math.round(10 ** magnitude);
        const { times } = ticksOf(from, to, zone);
        expect(times.length).toBeLessThanOrEqual(14);
        expect(times.every((time, i) => time >= from && time <= to && (i === 0 || time > times[i - 1]!))).toBe(true);
      }),
    );
  });
});

describe('what is shown, to take along', () => {
  const view = (changes: Partial<TraceView>): TraceView => ({
    names: ['A', 'B'],
    read: 'processed',
    aggregates: ['TimeAverage'],
    interval: 'P1D',
    labelAtEnd: false,
    together: false,
    logarithmic: false,
    lanes: null,
    compared: false,
    stepped: new Map(),
    cursors: null,
    cycle: 0,
    times: '',
    ...changes,
  });
  const week = { from: Date.UTC(2026, 9, 19), to: Date.UTC(2026, 9, 26) };
  const file = (changes: Partial<TraceView>): URLSearchParams =>
    new URLSearchParams(exportAddress(view(changes), ['A'], week, 'Europe/Berlin', 'csv', 'table').split('?')[1]);
  const sql = (changes: Partial<TraceView>): string => sqlFor(view(changes), ['A', "B's"], week, 'Europe/Berlin');

  test('is a file of the read that is shown', () => {
    expect(Object.fromEntries(file({}))).toMatchObject({
      kind: 'processed',
      aggregates: 'TimeAverage',
      interval: 'P1D',
    });
    expect(file({ read: 'raw' }).get('kind')).toBe('raw');
    expect(Object.fromEntries(file({ read: 'at', times: 'now-1h, now' }))).toMatchObject({
      kind: 'at',
      times: 'now-1h,now',
    });
    expect(file({ read: 'modified' }).get('kind')).toBe('modified');
  });
  test('is SQL with the same buckets, and names that cannot break out of it', () => {
    expect(sql({})).toContain("date_trunc('day', time, 'Europe/Berlin')");
    expect(sql({ interval: 'week' })).toContain("date_trunc('week', time, 'Europe/Berlin')");
    expect(sql({ interval: '15 minutes' })).toContain("date_bin('15 minutes', time, '2026-10-19T00:00:00.000Z')");
    expect(sql({ read: 'raw' })).toContain("history.sample('B''s',");
    const at = sql({ read: 'at', times: 'now-2h,2026-10-20T00:00:00Z' });
    expect(at).toContain("(now() - interval '2 hours'), (timestamptz '2026-10-20T00:00:00Z')");
  });
});

describe('a strip', () => {
  const row = (tag: string | null): CoverageAnswer['rows'][number] => ({
    source: 'S',
    sourceId: 1,
    tag,
    duty: [],
    spans: [],
    gaps: [],
    watchedPercent: tag ? 50 : 100,
  });
  const answer: CoverageAnswer = { from: '', to: '', rows: [row(null), row('own')], unlooked: 0 };
  test('is the tag’s own where it differs, else its source’s, and empty without a source', () => {
    expect(coverageOf(answer, { name: 'own', sourceId: 1 })!.watchedPercent).toBe(50);
    expect(coverageOf(answer, { name: 'other', sourceId: 1 })!.watchedPercent).toBe(100);
    expect(coverageOf(answer, { name: 'sent', sourceId: null })!.spans).toEqual([]);
    expect(coverageOf(undefined, { name: 'own', sourceId: 1 })).toBeUndefined();
  });
});

describe('the window', () => {
  test('moves along while live, in steps, and stands still while held', () => {
    showLast(3_600_000);
    tick(1_795_000_001_999);
    expect(useWindowState.getState().to).toBe(1_795_000_000_000);
    toggleLive();
    tick(1_795_000_009_000);
    expect(useWindowState.getState().to).toBe(1_795_000_000_000);
  });
  test('is written into the address: its length while live, its edges while held', () => {
    showLast(3_600_000);
    expect(windowParameters(useWindowState.getState())).toEqual({ last: '3600', from: null, to: null, zone: null });
    hold(0, 60_000);
    expect(windowParameters(useWindowState.getState())).toEqual({
      last: null,
      from: '1970-01-01T00:00:00.000Z',
      to: '1970-01-01T00:01:00.000Z',
      zone: null,
    });
  });
  test('is never shorter than a second', () => {
    hold(5000, 5001);
    expect(useWindowState.getState().length).toBe(1000);
  });
});

describe('words', () => {
  test('say a window in its zone, with the second date only where it differs', () => {
    const noon = Date.UTC(2026, 10, 22, 11);
    expect(windowWords(noon, noon + 6 * 3_600_000, 'Europe/Berlin')).toBe('22 Nov 12:00 – 18:00');
    expect(windowWords(noon, noon + 24 * 3_600_000, 'Europe/Berlin')).toBe('22 Nov 12:00 – 23 Nov 12:00');
    expect(offsetOf(noon, 'Europe/Berlin')).toBe('UTC+01:00');
    expect(bothZones(noon, 'Europe/Berlin')).toBe(
      '22 Nov 2026 11:00:00 UTC · 22 Nov 2026 12:00:00 Europe/Berlin (UTC+01:00)',
    );
  });
  test('show values, sizes and ages as people read them', () => {
    expect(showNumber(1234567.5)).toBe('1\u2009234\u2009567.5');
    expect([showValue(null), showValue(true), showValue('open')]).toEqual(['—', 'yes', 'open']);
    expect([[1, 2], [1.5, 2, null], [0.1 + 0.2], [1 / 3, 5]].map(digitsOf)).toEqual([0, 1, 1, 3]);
    expect(showBytes(23_200_000)).toBe('23.2 MB');
    expect([showAge(400), showAge(65_000), showAge(600_000)]).toEqual(['0.4 s ago', '65 s ago', '10 min ago']);
    expect([0, 0x40a40000, 0x80310000].map(gradeOf)).toEqual(['Good', 'Uncertain', 'Bad']);
  });
});
