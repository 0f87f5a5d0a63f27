import fc from 'fast-check';
import { findGaps, intersect, subtract, totalLength, union, type Span } from '../../src/index.ts';

const spans = fc.array(
  fc.tuple(fc.nat(100), fc.nat(30)).map(([from, length]): Span => ({ from, to: from + length })),
  { maxLength: 12 },
);

/** The obvious way: one bit per unit of time. */
const cells = (list: readonly Span[]): boolean[] =>
  Array.from({ length: 140 }, (_, t) => list.some(({ from, to }) => from <= t && t < to));

describe('spans', () => {
  test('agree with a drawing on squared paper', () => {
    fc.assert(
      fc.property(spans, spans, (a, b) => {
        const [x, y] = [union(a), union(b)];
        expect(cells(x)).toEqual(cells(a));
        expect(cells(intersect(x, y))).toEqual(cells(a).map((inA, t) => inA && cells(b)[t]!));
        expect(cells(subtract(x, y))).toEqual(cells(a).map((inA, t) => inA && !cells(b)[t]!));
        expect(totalLength(subtract(x, y)) + totalLength(intersect(x, y))).toBe(totalLength(x));
      }),
    );
  });
});

describe('gaps', () => {
  const window = { from: 0, to: 100 };
  test('are what should have been watched and was not, with the cause that was reported', () => {
    const outage = {
      from: 38,
      to: 61,
      cause: 'source' as const,
      sentence: 'Nothing answers.',
      code: 'ECONNREFUSED',
      recoverable: false,
    };
    const gaps = findGaps(
      window,
      [{ from: 10, to: 100 }],
      [
        { from: 10, to: 40 },
        { from: 60, to: 90 },
      ],
      [outage],
    );
    expect(gaps).toEqual([
      { from: 40, to: 60, cause: 'source', sentence: 'Nothing answers.', code: 'ECONNREFUSED', recoverable: false },
      {
        from: 90,
        to: 100,
        cause: 'collector',
        sentence: 'The collector was not running or not configured for this.',
        code: null,
        recoverable: false,
      },
    ]);
  });
  test('do not exist before a tag was in force', () => {
    expect(findGaps(window, [], [], [])).toEqual([]);
  });
});
