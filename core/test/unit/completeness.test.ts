/** Completeness in cells: shares that add up, over the time in which collecting was meant to be. */
import fc from 'fast-check';
import {
  NOTHING_DUE,
  addCompleteness,
  clip,
  completePercent,
  completenessOf,
  sumOf,
  totalLength,
  union,
  type Span,
} from '../../src/index.ts';

const spans = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 1000 }), fc.integer({ min: 1, max: 80 })), { maxLength: 12 })
  .map((list) => union(list.map(([from, length]) => ({ from, to: from + length }))));
const edges = fc
  .uniqueArray(fc.integer({ min: 0, max: 1100 }), { minLength: 2, maxLength: 10 })
  .map((list) => [...list].sort((a, b) => a - b));
const cellsOf = (list: readonly number[]): Span[] => list.slice(1).map((to, i) => ({ from: list[i]!, to }));
const gapsOf = (list: readonly Span[], due: readonly Span[]) =>
  list.flatMap((gap, i) =>
    clip(due, gap).map((part) => ({ ...part, explained: i % 3 === 0 ? { by: 'a', reason: 'r' } : null })),
  );

test('cells together are the window as one cell, however it is cut', () => {
  fc.assert(
    fc.property(spans, spans, edges, (due, missing, list) => {
      const gaps = gapsOf(missing, due);
      const cells = completenessOf(cellsOf(list), due, gaps);
      const [whole] = completenessOf([{ from: list[0]!, to: list.at(-1)! }], due, gaps);
      expect(sumOf(cells)).toEqual(whole);
      for (const cell of cells) {
        expect(cell.missing).toBeLessThanOrEqual(cell.due);
        expect(cell.explained).toBeLessThanOrEqual(cell.missing);
      }
    }),
  );
});

test('is what a look at every single moment finds', () => {
  const inside = (list: readonly Span[], at: number): boolean => list.some(({ from, to }) => from <= at && at < to);
  fc.assert(
    fc.property(
      spans,
      spans,
      fc.integer({ min: 0, max: 900 }),
      fc.integer({ min: 1, max: 200 }),
      (due, missing, from, length) => {
        const cell = { from, to: from + length };
        const [found] = completenessOf([cell], due, gapsOf(missing, due));
        const moments = Array.from({ length }, (_, i) => from + i);
        expect(found!.due).toBe(moments.filter((at) => inside(due, at)).length);
        expect(found!.missing).toBe(moments.filter((at) => inside(due, at) && inside(missing, at)).length);
      },
    ),
  );
});

test('several alike count as often as there are of them, and what was never due has no share', () => {
  fc.assert(
    fc.property(spans, spans, edges, fc.integer({ min: 1, max: 5 }), (due, missing, list, times) => {
      const cells = completenessOf(cellsOf(list), due, gapsOf(missing, due));
      const one = Array.from({ length: times }).reduce<typeof cells>((sum) => addCompleteness(sum, cells), []);
      expect(addCompleteness([], cells, times)).toEqual(one);
      const all = sumOf(cells);
      const percent = completePercent(all);
      if (totalLength(due.flatMap((span) => clip([span], { from: list[0]!, to: list.at(-1)! }))) === 0)
        expect(percent).toBeNull();
      else expect(completePercent(sumOf(one))).toBeCloseTo(percent!, 9);
    }),
  );
  expect(completePercent(NOTHING_DUE)).toBeNull();
  expect(completePercent({ due: 1000, missing: 250, explained: 0 })).toBe(75);
});
