/** The one window of time and the address that holds it. */
import fc from 'fast-check';
import { windowOfAddress, windowParameters } from '../../src/window/windowStore.ts';
import { searchWith } from '../../src/frame/useGo.ts';

const NOW = Date.UTC(2026, 10, 23, 14);
const DAY = 86_400_000;
const search = (parameters: Record<string, string | null>): string =>
  new URLSearchParams(
    Object.entries(parameters).filter((entry): entry is [string, string] => entry[1] !== null),
  ).toString();

test('whatever window is shown, its address brings it back', () => {
  const state = fc.record({
    live: fc.boolean(),
    length: fc.integer({ min: 1, max: 400 * 86_400 }).map((seconds) => seconds * 1000),
    to: fc.integer({ min: 0, max: NOW }),
    otherZone: fc.constantFrom(null, 'UTC', 'Atlantic/Azores', 'Asia/Kolkata'),
    siteZone: fc.constant('UTC'),
  });
  fc.assert(
    fc.property(state, (shown) => {
      const again = windowOfAddress(search(windowParameters(shown)), NOW);
      expect(again).toEqual({ ...shown, to: shown.live ? NOW : shown.to });
    }),
  );
});

test.each([
  ['nothing', '', 6 * 3_600_000, true],
  ['no number', 'last=soon', 6 * 3_600_000, true],
  ['no time at all', 'last=0', 6 * 3_600_000, true],
  ['less than a second', 'last=0.2', 1000, true],
  ['an age', 'last=1e12', 400 * DAY, true],
  ['a held age', 'from=1800-01-01T00:00:00Z&to=2026-01-01T00:00:00Z', 400 * DAY, false],
  ['an end before its start', 'from=2026-02-01T00:00:00Z&to=2026-01-01T00:00:00Z', 6 * 3_600_000, true],
  ['half a window', 'from=2026-02-01T00:00:00Z', 6 * 3_600_000, true],
])('an address that asks for %s gives a window that can be shown', (_, asked, length, live) => {
  expect(windowOfAddress(asked, NOW)).toMatchObject({ length, live });
});

test('another screen is gone to with the window, and without what belonged to the screen that is left', () => {
  expect(searchWith('?last=3600&zone=utc&row=7&search=pump')).toBe('?last=3600&zone=utc');
  expect(searchWith('?row=7')).toBe('');
  expect(searchWith('?last=60', { tags: 'A,B', last: '120' })).toBe('?last=120&tags=A%2CB');
});
