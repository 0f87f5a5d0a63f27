/** How completeness is cut and written. */
import { cellHead, monthBefore, shareWords, unitOf } from '../../src/completeness/cells.ts';

const HOUR = 3_600_000;

test.each([
  [6, 'hour'],
  [36, 'hour'],
  [37, 'day'],
  [31 * 24, 'day'],
  [63 * 24, 'month'],
])('a window of %d hours is cut by the %s', (hours, unit) => expect(unitOf(hours * HOUR)).toBe(unit));

test.each([
  [null, ''],
  [100, '•'],
  [99.999, '99.9'],
  [99.94, '99.9'],
  [0, '0.0'],
  [7.25, '7.2'],
])('a share of %d is written "%s": never whole where it is not', (percent, words) =>
  expect(shareWords(percent)).toBe(words),
);

test('months begin by the clock of the zone, also where it is set', () => {
  const moment = Date.UTC(2026, 10, 15);
  expect(monthBefore(moment, 1, 'Europe/Berlin')).toEqual({
    from: Date.parse('2026-09-30T22:00:00Z'),
    to: Date.parse('2026-10-31T23:00:00Z'),
  });
  expect(monthBefore(Date.UTC(2026, 0, 31), 1, 'UTC')).toEqual({
    from: Date.UTC(2025, 11, 1),
    to: Date.UTC(2026, 0, 1),
  });
});

test('a cell is called by what it is, by the clock of the zone', () => {
  expect(cellHead('2026-10-24T22:00:00Z', 'day', 'Europe/Berlin')).toEqual({ head: '25', whole: 'Sun 25 Oct 2026' });
  expect(cellHead('2026-10-24T22:00:00Z', 'hour', 'UTC').head).toBe('22');
  expect(cellHead('2026-10-24T22:00:00Z', 'month', 'UTC')).toEqual({ head: 'Oct', whole: 'October 2026' });
});
