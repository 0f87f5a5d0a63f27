import { Status, agreementOf, bestOffset, type TimedValue } from '@wide-ledger/core';
import { verdict } from '../../src/traces/agreement/words.ts';

const series = (at: (second: number) => number): TimedValue[] =>
  Array.from({ length: 100 }, (_, t) => ({ time: t * 1e6, value: at(t), status: Status.Good }));
const told = (first: TimedValue[], second: TimedValue[], tolerance: number, offset = 0): string => {
  const settings = { tolerance, stepped: false };
  const best = bestOffset(first, second, settings, 1e6, 10);
  return verdict(agreementOf(first, second, { ...settings, offset }), tolerance, 'bar', best, offset);
};
const wave = (t: number): number => 5 + Math.sin(t / 7) + Math.sin(t / 3.1);

test('the verdict is a sentence: they agree, they differ, one is late, nothing is common', () => {
  expect(told(series(wave), series(wave), 0.1)).toBe(
    'They agree: of 100 values none differs by more than 0.1 bar; the largest difference is 0 bar.',
  );
  expect(
    told(
      series(wave),
      series((t) => wave(t) + 2),
      0.1,
    ),
  ).toMatch(/^They differ: 100 of 100 values by more than 0.1 bar; the largest difference is 2 bar\.$/);
  expect(
    told(
      series(wave),
      series((t) => wave(t - 3)),
      0.1,
    ),
  ).toContain('With the second 3 s later they agree better: 0 bar on average instead of');
  expect(told(series(wave), [], 0.1)).toContain('no time in common');
  expect(told([], series(wave), 0.1)).toContain('no usable value');
});
