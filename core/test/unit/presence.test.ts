/** Presence by the values alone: what is a gap, and what is only a quiet tag. */
import fc from 'fast-check';
import { FEWEST_VALUES, PresenceBook, SECOND, rhythmOf, totalLength, type Span } from '../../src/index.ts';

const MINUTE = 60 * SECOND;
const every = (interval: number, count: number, start = 0): number[] =>
  Array.from({ length: count }, (_, i) => start + i * interval);
const gapsOf = (times: readonly number[], window: Span, longestSilence: number | null = null): readonly Span[] => {
  const rhythm = rhythmOf(times, longestSilence);
  const book = new PresenceBook(window, rhythm?.longest ?? 0);
  for (const time of times) book.take(time);
  return rhythm ? book.finish().gaps : [];
};
const whole = (times: readonly number[]): Span => ({ from: times[0]!, to: times.at(-1)! + 1 });

describe('a tag whose values come regularly', () => {
  test('misses the stretch that was left out of a jittering series, and nothing else', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: SECOND, max: 60 * MINUTE }),
        fc.array(fc.double({ min: -0.1, max: 0.1, noNaN: true }), { minLength: 60, maxLength: 300 }),
        fc.double({ min: 0.1, max: 0.8, noNaN: true }),
        fc.integer({ min: 3, max: 40 }),
        (interval, jitter, where, missing) => {
          const at = Math.floor(jitter.length * where);
          const times = jitter.map((shift, i) => Math.round((i + (i > at ? missing : 0) + shift) * interval));
          expect(gapsOf(times, whole(times))).toEqual([{ from: times[at], to: times[at + 1] }]);
        },
      ),
    );
  });

  test('is the same in another unit of time, and at another time', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 1e6 }), { minLength: FEWEST_VALUES, maxLength: 200 }),
        fc.integer({ min: 1, max: 1000 }),
        fc.integer({ min: 0, max: 1e9 }),
        (given, scale, shift) => {
          const times = [...given].sort((a, b) => a - b);
          const other = times.map((time) => time * scale + shift);
          const before = rhythmOf(times)!;
          const after = rhythmOf(other)!;
          expect(after.usual).toBe(before.usual * scale);
          expect(after.longest / before.longest).toBeCloseTo(scale, 6);
        },
      ),
    );
  });
});

test('a quiet tag under a deadband is no gap: its silences spread as widely as chance has it', () => {
  fc.assert(
    fc.property(fc.integer(), fc.integer({ min: 100, max: 1000 }), (seed, count) => {
      // Changes that come by chance, a minute apart in the mean: an exponential distribution of silences.
      let state = seed >>> 0;
      let time = 0;
      const times = Array.from({ length: count }, () => {
        // A linear congruential generator, constants of Numerical Recipes, section 7.1.
        state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
        return (time += Math.max(1, Math.round(-Math.log((state + 0.5) / 2 ** 32) * MINUTE)));
      });
      expect(Math.max(...times.slice(1).map((at, i) => at - times[i]!))).toBeGreaterThan(2 * MINUTE);
      expect(gapsOf(times, whole(times))).toEqual([]);
    }),
  );
});

test('what one silence in twenty reaches is usual: a laboratory that rests at week-ends has no gap there, a week off is one', () => {
  const DAY = 24 * 60 * MINUTE;
  const days = Array.from({ length: 70 }, (_, day) => day).filter((day) => day % 7 < 5);
  const times = days.map((day) => day * DAY);
  expect(gapsOf(times, whole(times))).toEqual([]);
  const away = days.filter((day) => day < 28 || day >= 35).map((day) => day * DAY);
  expect(gapsOf(away, whole(away))).toEqual([{ from: 25 * DAY, to: 35 * DAY }]);
});

test('the longest silence that somebody set is respected', () => {
  const times = [...every(SECOND, 100), ...every(SECOND, 100, 700 * SECOND)];
  expect(gapsOf(times, whole(times))).toHaveLength(1);
  expect(gapsOf(times, whole(times), 600 * SECOND)).toEqual([]);
  expect(gapsOf(times, whole(times), 300 * SECOND)).toHaveLength(1);
});

test('too few values tell of no rhythm, and each stands for itself', () => {
  const times = every(MINUTE, FEWEST_VALUES - 1);
  expect(rhythmOf(times)).toBeNull();
  expect(rhythmOf([...times, times.at(-1)! + MINUTE])).toEqual({ values: 11, usual: MINUTE, longest: 1.5 * MINUTE });
  const book = new PresenceBook({ from: MINUTE, to: 3 * MINUTE }, 0);
  for (const time of times) book.take(time);
  expect(book.finish().spans).toEqual([
    { from: MINUTE, to: MINUTE },
    { from: 2 * MINUTE, to: 2 * MINUTE },
    { from: 3 * MINUTE, to: 3 * MINUTE },
  ]);
});

test('spans and gaps share the time between the first value and the last, within the window and however runs are cut', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 0, max: 10_000 }), { minLength: 2, maxLength: 100 }),
      fc.integer({ min: 1, max: 400 }),
      fc.integer({ min: 0, max: 5000 }),
      fc.integer({ min: 1, max: 5000 }),
      (given, longest, from, length) => {
        const times = [...given].sort((a, b) => a - b);
        const window = { from, to: from + length };
        const single = new PresenceBook(window, longest);
        for (const time of times) single.take(time);
        const { spans, gaps } = single.finish();
        const inside = Math.min(times.at(-1)!, window.to) - Math.max(times[0]!, window.from);
        expect(totalLength(spans) + totalLength(gaps)).toBe(Math.max(0, inside));
        // A silence is a gap when it is longer, looked at one by one.
        const silent = times.slice(1).flatMap((to, i) => (to - times[i]! > longest ? [{ from: times[i]!, to }] : []));
        const cut = silent
          .map((gap) => ({ from: Math.max(gap.from, window.from), to: Math.min(gap.to, window.to) }))
          .filter((gap) => gap.from < gap.to);
        expect(gaps).toEqual(cut);
        const runs = new PresenceBook(window, longest);
        for (let i = 0; i < times.length;) {
          let end = i;
          while (end + 1 < times.length && times[end + 1]! - times[i]! <= longest) end++;
          runs.take(times[i]!, times[end]);
          i = end + 1;
        }
        expect(runs.finish()).toEqual({ spans, gaps });
      },
    ),
  );
});
