import fc from 'fast-check';
import { SHAPES, signalAt, type Signal } from '../../src/plant/signals.ts';

const signal = (over: Partial<Signal>): Signal => ({
  shape: 'sine',
  period: 8,
  amplitude: 40,
  offset: 100,
  renewMilliseconds: 1,
  ...over,
});

test('shapes are what they are called', () => {
  const at = (shape: Signal['shape'], ...times: number[]): number[] =>
    times.map((t) => Math.round(signalAt(signal({ shape }), t) * 1000) / 1000);
  expect(at('sine', 0, 2, 4, 6)).toEqual([100, 140, 100, 60]);
  expect(at('triangle', 0, 1, 2, 4, 6, 7)).toEqual([100, 120, 140, 100, 60, 80]);
  expect(at('square', 0, 3.9, 4, 7.9)).toEqual([140, 140, 60, 60]);
  expect(at('ramp', 0, 4)).toEqual([60, 100]);
  expect(at('counter', 0, 8, 17)).toEqual([0, 1, 2]);
});

test('a register that is renewed once a period shows a wave as standing still', () => {
  const held = signal({ renewMilliseconds: 8000 });
  const values = Array.from({ length: 50 }, (_, i) => signalAt(held, 800_000 + i));
  expect(new Set(values.map((value) => Math.round(value))).size).toBe(1);
});

test('every wave stays within its amplitude, and holds between two renewals', () => {
  const some = fc.record({
    shape: fc.constantFrom(...SHAPES.filter((shape) => shape !== 'counter')),
    period: fc.double({ min: 0.1, max: 1000, noNaN: true }),
    amplitude: fc.double({ min: 0, max: 1e6, noNaN: true }),
    offset: fc.double({ min: -1e6, max: 1e6, noNaN: true }),
    renewMilliseconds: fc.constantFrom(10, 100, 250, 1000),
  });
  fc.assert(
    fc.property(some, fc.integer({ min: 0, max: 2_000_000 }), (given, quarter) => {
      const t = quarter / 4;
      const value = signalAt(given, t);
      expect(Math.abs(value - given.offset)).toBeLessThanOrEqual(given.amplitude * 1.000001 + 1e-6);
      const renewal = Math.floor(t / (given.renewMilliseconds / 1000)) * (given.renewMilliseconds / 1000);
      expect(signalAt(given, renewal + given.renewMilliseconds / 2000)).toBeCloseTo(
        signalAt(given, renewal + given.renewMilliseconds / 4000),
        6,
      );
    }),
  );
});
