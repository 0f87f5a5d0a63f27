/** What a request for history has to satisfy: each wrong one is told what, where and what to do. */
import { DEFAULT_CONFIGURATION, HOUR, type AggregateConfiguration } from '@wide-ledger/core';
import { ProblemError } from '../../src/ground/http/problemError.ts';
import { echoWindow, resolveWindow } from '../../src/ground/http/window.ts';
import type { ReadTag } from '../../src/archive/reading/readTag.ts';
import { cutFor, checkAggregates, configurationFor, resolveTimes, unitOf } from '../../src/archive/reading/rules.ts';
import { keptSince } from '../../src/archive/keeping/retention.ts';
import type { TagRow } from '../../src/configuration/catalogue/catalogue.ts';

const readTag = (type: ReadTag['type'], unit = ''): ReadTag => ({
  id: 1,
  name: 'T',
  type,
  unit,
  states: null,
  store: 1,
  configuration: DEFAULT_CONFIGURATION,
  watchedUntil: -Infinity,
});

function problemOf(run: () => unknown): [number, string] {
  try {
    run();
  } catch (error) {
    if (error instanceof ProblemError) return [error.status, error.message];
    throw error;
  }
  return [200, ''];
}

describe('intervals', () => {
  const window = { from: 0, to: 6 * HOUR };
  test('cut the window', () => {
    expect(cutFor(window, 'PT2H', 'UTC')).toEqual({
      ...window,
      interval: { kind: 'fixed', micros: 2 * HOUR },
      zone: 'UTC',
    });
  });
  test('that are none are refused with what to write instead', () => {
    const [status, words] = problemOf(() => cutFor(window, 'fortnight', 'UTC'));
    expect(status).toBe(400);
    expect(words).toContain('"fortnight" is none. Use an ISO 8601 duration');
  });
  test('of a window without length have no answer, as the standard says', () => {
    expect(problemOf(() => cutFor({ from: 5, to: 5 }, 'PT1H', 'UTC'))[0]).toBe(400);
  });
});

describe('the configuration of aggregates', () => {
  const tag = (own: Partial<AggregateConfiguration> | null, stepped = false): TagRow =>
    ({ stepped, aggregateConfiguration: own }) as TagRow;
  test('is the request’s, else the tag’s, else the standard’s', () => {
    const own = { treatUncertainAsBad: false, percentDataBad: 50, percentDataGood: 50 };
    expect(configurationFor(tag(null), {})).toEqual({ ...DEFAULT_CONFIGURATION, stepped: false });
    expect(configurationFor(tag(own, true), {})).toEqual({ ...DEFAULT_CONFIGURATION, ...own, stepped: true });
    expect(configurationFor(tag(own, true), { treatUncertainAsBad: true, stepped: false })).toMatchObject({
      treatUncertainAsBad: true,
      percentDataBad: 50,
      stepped: false,
    });
  });
  // OPC 10000-13: PercentDataGood has to be at least 100 − PercentDataBad; the text's own example (from memory).
  test('Bad 80 with Good 0 is refused', () => {
    const [status, words] = problemOf(() => configurationFor(tag(null), { percentDataBad: 80, percentDataGood: 0 }));
    expect([status, words.includes('percentDataGood')]).toEqual([400, true]);
  });
});

test('text has no average, and is told what it has', () => {
  expect(problemOf(() => checkAggregates([readTag('text')], ['Count', 'Start']))).toEqual([200, '']);
  const [status, words] = problemOf(() => checkAggregates([readTag('real'), readTag('text')], ['Count', 'Average']));
  expect([status, words.startsWith('T keeps text, and Average needs numbers.')]).toEqual([400, true]);
});

describe('units', () => {
  test('a flow in m³/h is asked for in m³: seconds become hours', async () => {
    const { unit, factor } = await unitOf('integral', readTag('real', 'm3/h'), 'm3');
    expect([unit, factor]).toEqual(['m3', expect.closeTo(1 / 3600, 15)]);
    // A power of 1 kW over an hour is 1 kWh = 3.6 MJ (SI).
    expect((await unitOf('integral', readTag('real', 'kW'), 'MJ')).factor * 3600).toBeCloseTo(3.6, 12);
  });
  test('that do not fit, or a rate per something else, are refused', async () => {
    await expect(unitOf('integral', readTag('real', 'm3/h'), 'kWh')).rejects.toMatchObject({ status: 400 });
    await expect(unitOf('rate', readTag('real', 'bar'), 'day')).rejects.toMatchObject({
      status: 400,
      message: 'unit: a rate is per s, min or h, not per "day".',
    });
    expect(await unitOf('rate', readTag('real', 'bar'), undefined)).toEqual({ unit: 'bar/h', factor: 3600 });
  });
});

describe('times', () => {
  test('relative ones are resolved against one present, and echoed', () => {
    const { from, to } = resolveWindow({ from: 'now-6h', to: 'now' });
    expect(to - from).toBe(6 * HOUR);
    expect(echoWindow({ from: 0, to: HOUR })).toEqual({
      from: '1970-01-01T00:00:00.000Z',
      to: '1970-01-01T01:00:00.000Z',
    });
  });
  test('that are none are named', () => {
    expect(problemOf(() => resolveWindow({ from: '$start', to: 'now' }))[1]).toContain('from: "$start" is neither');
    expect(problemOf(() => resolveTimes(['now', '6 o’clock']))[1]).toContain('times: "6 o’clock" is neither');
    expect(problemOf(() => resolveTimes([]))).toEqual([400, 'times: give at least one time.']);
  });
});

test('a retention of whole months does not count the running one, across the turn of the year', () => {
  const at = (text: string): number => Date.parse(text) * 1000;
  expect(keptSince(1, at('2026-01-31T23:59:59Z'))).toBe(at('2025-12-01T00:00:00Z'));
  expect(keptSince(13, at('2026-03-01T00:00:00Z'))).toBe(at('2025-02-01T00:00:00Z'));
});
