import type { CoverageAnswer, EnvelopeAnswer } from '@wide-ledger/contract';
import { coverageOf } from '../../src/strip/coverageOf.ts';
import { pointsOf } from '../../src/traces/points.ts';
import { exportAddress, sqlFor } from '../../src/traces/requests.ts';
import type { TraceView } from '../../src/traces/useTraceView.ts';
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

describe('what is shown, to take along', () => {
  const view = (changes: Partial<TraceView>): TraceView => ({
    names: ['A', 'B'],
    read: 'processed',
    aggregates: ['TimeAverage'],
    interval: 'P1D',
    labelAtEnd: false,
    together: false,
    logarithmic: false,
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
    expect(sql({ interval: 'quarter' })).toContain("date_trunc('quarter', time, 'Europe/Berlin')");
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
  const answer: CoverageAnswer = { from: '', to: '', rows: [row(null), row('own')] };
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
