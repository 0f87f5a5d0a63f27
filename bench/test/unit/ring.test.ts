/** How long buffers last: by arithmetic, and by what the bench's ring does. */
import fc from 'fast-check';
import { untilCaughtUp, untilFull } from '@wide-ledger/core';
import { Ring } from '../../src/index.ts';

test('a ring of the bench reaches back as long as is computed', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 10, max: 500 }), (variables, beats) => {
      const capacity = variables * beats;
      const ring = new Ring<{ id: number; low: null; high: null }>({
        capacity,
        feeding: { by: 'time', milliseconds: 1000 },
      });
      const all = Array.from({ length: variables }, (_, id) => ({ id, low: null, high: null }));
      const last = beats * 3;
      for (let second = 1; second <= last; second++)
        for (const variable of all) ring.offer(variable, second * 1000, second);
      expect(ring.size).toBe(capacity);
      const lasts = untilFull({ capacity, held: 0, valuesPerSecond: variables });
      expect(last - ring.since! / 1000 + 1).toBe(lasts);
      expect(lasts).toBe(beats);
    }),
  );
});

test('a ring fed by difference or deadband lasts longer, and holds what matters', () => {
  const variable = { low: 0, high: 100 };
  const kept = (feeding: ConstructorParameters<typeof Ring>[0]['feeding'], values: readonly number[]): unknown[] => {
    const ring = new Ring<typeof variable>({ capacity: 100, feeding });
    values.forEach((value, i) => ring.offer(variable, i, value));
    return ring.of(variable).map(({ value }) => value);
  };
  const values = [5, 5, 5.5, 6.1, 6.1, 5];
  expect(kept({ by: 'time', milliseconds: 1 }, values)).toEqual(values);
  expect(kept({ by: 'difference', milliseconds: 1 }, values)).toEqual([5, 5.5, 6.1, 5]);
  // One per cent of the range: more than 1 away from the last that was kept.
  expect(kept({ by: 'deadband', milliseconds: 1, percent: 1 }, values)).toEqual([5, 6.1, 5]);
});

test('a backlog that grows as fast as it is worked off never ends; else it ends after what is left over', () => {
  // 20,000 values in calls of 10, 20 a second: a hundred seconds; twice that while half of it is taken up by what is live.
  const backlog = { backlog: 20_000, valuesPerCall: 10, callsPerSecond: 20, liveValuesPerSecond: 0 };
  expect(untilCaughtUp(backlog)).toBe(100);
  expect(untilCaughtUp({ ...backlog, liveValuesPerSecond: 100 })).toBe(200);
  expect(untilCaughtUp({ ...backlog, liveValuesPerSecond: 200 })).toBe(Infinity);
  expect(untilCaughtUp({ ...backlog, backlog: 0, liveValuesPerSecond: 200 })).toBe(0);
  expect(untilFull({ capacity: 10, held: 4, valuesPerSecond: 0 })).toBe(Infinity);
  expect(untilFull({ capacity: 10, held: 40, valuesPerSecond: 2 })).toBe(0);
});

test('a ring whose clock was set back tells its values in the order of their time, and loses the oldest to come first', () => {
  const variable = { low: 0, high: 100 };
  const ring = new Ring<typeof variable>({ capacity: 4, feeding: { by: 'time', milliseconds: 1 } });
  for (const time of [10, 20, 5, 15]) ring.offer(variable, time, time);
  expect(ring.of(variable).map(({ time }) => time)).toEqual([5, 10, 15, 20]);
  ring.offer(variable, 25, 25);
  expect(ring.of(variable).map(({ time }) => time)).toEqual([5, 15, 20, 25]);
});
