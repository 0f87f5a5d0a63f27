/** Summaries of runs as bytes: whole, in parts, and one behind the other. */
import fc from 'fast-check';
import {
  ALL_PARTS,
  NO_PARTS,
  PACKED_RUN_BYTES,
  PackedRuns,
  packRun,
  packedRanges,
  summariseRun,
  type RunParts,
  type RunSummary,
} from '../../src/index.ts';

const runs = fc.array(
  fc.array(
    fc.record({ step: fc.integer({ min: 1, max: 1e9 }), value: fc.double({ noNaN: true, min: -1e9, max: 1e9 }) }),
    {
      minLength: 1,
      maxLength: 20,
    },
  ),
  { minLength: 1, maxLength: 8 },
);
const parts: fc.Arbitrary<RunParts> = fc.record({
  sums: fc.boolean(),
  squares: fc.boolean(),
  extremes: fc.boolean(),
  slopedArea: fc.boolean(),
  held: fc.boolean(),
});

/** Runs that follow each other in time, summed up. */
function summaries(given: readonly { step: number; value: number }[][]): RunSummary[] {
  let time = 1.7e15;
  return given.map((samples) => {
    const times = Float64Array.from(samples, ({ step }) => (time += step));
    return summariseRun(
      times,
      Float64Array.from(samples, ({ value }) => value),
      0,
      samples.length,
    );
  });
}

const NUMBERS: Readonly<Record<keyof RunParts | 'head', readonly (keyof RunSummary)[]>> = {
  head: ['count', 'firstTime', 'firstValue', 'lastTime', 'lastValue', 'penultimateTime', 'penultimateValue'],
  sums: ['sum', 'sumRest'],
  squares: ['squares', 'squaresRest'],
  extremes: ['least', 'leastTime', 'leastMany', 'greatest', 'greatestTime', 'greatestMany'],
  slopedArea: ['slopedArea', 'slopedAreaRest'],
  held: ['heldArea', 'heldAreaRest', 'transitions', 'zeroTime'],
};

/** What a database fetches of a packed summary when it is asked for these parts. */
const fetched = (packed: Uint8Array, wanted: RunParts): number[] =>
  packedRanges(wanted).flatMap(({ from, to }) => [...packed.subarray(from * 8, to * 8)]);

test('come back as they were, in their order, and sliced', () => {
  fc.assert(
    fc.property(runs, fc.nat(8), fc.nat(8), (given, a, b) => {
      const whole = summaries(given);
      const packed = PackedRuns.unpack(Uint8Array.from(whole.flatMap((run) => [...packRun(run)])));
      expect(packed.length).toBe(whole.length);
      const all = Object.values(NUMBERS).flat();
      const shown = (list: Iterable<RunSummary>): unknown[] => [...list].map((run) => all.map((name) => run[name]));
      expect(shown(packed)).toEqual(shown(whole));
      const [from, to] = [Math.min(a, b, whole.length), Math.min(Math.max(a, b), whole.length)];
      expect(shown(packed.slice(from, to))).toEqual(shown(whole.slice(from, to)));
      whole.forEach((run, i) =>
        expect([packed.firstTime(i), packed.lastTime(i)]).toEqual([run.firstTime, run.lastTime]),
      );
    }),
  );
});

test('of which only parts were fetched hold these parts, and nothing in the place of the others', () => {
  fc.assert(
    fc.property(runs, parts, (given, wanted) => {
      const whole = summaries(given);
      const bytes = Uint8Array.from(whole.flatMap((run) => fetched(packRun(run), wanted)));
      const read = [...PackedRuns.unpack(bytes, wanted)];
      read.forEach((run, i) => {
        for (const name of NUMBERS.head) expect(run[name]).toEqual(whole[i]![name]);
        for (const part of Object.keys(wanted) as (keyof RunParts)[]) {
          for (const name of NUMBERS[part]) {
            if (wanted[part]) expect(run[name]).toEqual(whole[i]![name]);
            else expect([0, false]).toContain(run[name]);
          }
        }
      });
    }),
  );
});

test('ranges ascend, never touch, and hold everything where everything is wanted', () => {
  expect(packedRanges(ALL_PARTS)).toEqual([{ from: 0, to: PACKED_RUN_BYTES / 8 }]);
  expect(packedRanges(NO_PARTS)).toEqual([{ from: 0, to: 7 }]);
  fc.assert(
    fc.property(parts, (wanted) => {
      packedRanges(wanted).forEach(({ from, to }, i, all) => {
        expect(to).toBeGreaterThan(from);
        if (i > 0) expect(from).toBeGreaterThan(all[i - 1]!.to);
      });
    }),
  );
});

test('a broken string of bytes is refused', () => {
  expect(() => PackedRuns.unpack(new Uint8Array(PACKED_RUN_BYTES + 1))).toThrow(RangeError);
  expect(PackedRuns.unpack(new Uint8Array(0)).length).toBe(0);
});
