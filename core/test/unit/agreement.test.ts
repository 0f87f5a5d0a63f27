import fc from 'fast-check';
import { Status, agreementOf, bestOffset, type TimedValue } from '../../src/index.ts';

const SECOND = 1_000_000;
const series = (at: (second: number) => number | null, from: number, to: number): TimedValue[] =>
  Array.from({ length: to - from }, (_, i) => {
    const value = at(from + i);
    return { time: (from + i) * SECOND, value, status: value === null ? Status.BadNoCommunication : Status.Good };
  });
const exact = { offset: 0, tolerance: 0.1, stepped: false };

test('the same signal agrees; a constant error is its mean', () => {
  const first = series((t) => Math.sin(t / 5), 0, 100);
  expect(agreementOf(first, first, exact)).toMatchObject({ beyond: 0, mean: 0, meanSize: 0 });
  const high = first.map((one) => ({ ...one, value: one.value! + 0.5 }));
  const { mean, beyond, largest, differences } = agreementOf(high, first, exact);
  expect(mean).toBeCloseTo(0.5, 12);
  expect([beyond, differences.length]).toEqual([100, 100]);
  expect(largest!.difference).toBeCloseTo(0.5, 12);
});

test('between two values the second lies on the line, or holds', () => {
  const first: TimedValue[] = [{ time: 1_500_000, value: 15, status: Status.Good }];
  const second = series((t) => 10 * t, 1, 3);
  expect(agreementOf(first, second, exact).mean).toBe(0);
  expect(agreementOf(first, second, { ...exact, stepped: true }).mean).toBe(5);
});

test('across a hole of the second nothing is compared', () => {
  const first = series((t) => t, 0, 10);
  const second = series((t) => (t === 4 ? null : t), 0, 10);
  const { alone, differences } = agreementOf(first, second, exact);
  expect([alone, differences.length]).toEqual([1, 9]);
});

test('a path that is three seconds late is found', () => {
  const wave = (t: number): number => Math.sin(t / 7) + Math.sin(t / 3.1);
  const first = series(wave, 0, 200);
  const late = series((t) => wave(t - 3), 0, 200);
  expect(bestOffset(first, late, exact, SECOND, 10)!.offset).toBe(3 * SECOND);
  expect(agreementOf(first, late, { ...exact, offset: 3 * SECOND }).beyond).toBe(0);
});

test('exchanging the two turns the sign of every difference at common times', () => {
  const some = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 50 });
  fc.assert(
    fc.property(some, some, (a, b) => {
      const count = Math.min(a.length, b.length);
      const [first, second] = [series((t) => a[t]!, 0, count), series((t) => b[t]!, 0, count)];
      const [there, back] = [agreementOf(first, second, exact), agreementOf(second, first, exact)];
      expect(there.differences.map(({ difference }) => difference)).toEqual(
        back.differences.map(({ difference }) => 0 - difference),
      );
      expect(there.beyond).toBe(back.beyond);
    }),
  );
});
