/** Holes, and what a source's own history says about them. */
import fc from 'fast-check';
import {
  nextTag,
  newHole,
  outcomeOf,
  subtract,
  totalLength,
  union,
  withHole,
  workloadOf,
  type Hole,
  type Span,
} from '../../src/index.ts';

const window = { from: 100, to: 200 };

/** Reads a ring part by part, as a collector does. */
function read(
  times: readonly number[],
  most: number,
  newestFirst: boolean,
  startedAt: number | null,
): { kept: number[]; recovered: Span[]; gone: Span[]; restarted: Span[] } {
  const inside = times.filter((time) => time >= window.from && time < window.to);
  const order = newestFirst ? [...inside].reverse() : inside;
  const reaches = times.some((time) => time <= window.from);
  const result = { kept: [] as number[], recovered: [] as Span[], gone: [] as Span[], restarted: [] as Span[] };
  let cursor: number | null = null;
  for (let at = 0; at === 0 || at < order.length; at += most) {
    const more = at + most < order.length;
    const part = order.slice(at, at + most);
    const tells = newestFirst ? !more : at === 0;
    const outcome = outcomeOf(
      { window, cursor, newestFirst, startedAt },
      { times: part, more, reachesBack: tells ? reaches : null },
    );
    result.kept.push(...outcome.kept.map((i) => part[i]!));
    result.recovered.push(...outcome.recovered);
    result.gone.push(...outcome.gone);
    result.restarted.push(...outcome.gone.filter(({ loss }) => loss === 'restarted'));
    cursor = outcome.cursor;
  }
  return result;
}

const rings = fc
  .uniqueArray(fc.integer({ min: 60, max: 240 }), { maxLength: 30 })
  .map((times) => times.sort((a, b) => a - b));

describe('what a source kept', () => {
  test('is taken whole, whichever way and in whatever parts; of the rest every moment is either recovered or gone', () => {
    fc.assert(
      fc.property(
        rings,
        fc.integer({ min: 1, max: 7 }),
        fc.boolean(),
        fc.option(fc.integer({ min: 50, max: 260 })),
        (times, most, newestFirst, startedAt) => {
          const { kept, recovered, gone, restarted } = read(times, most, newestFirst, startedAt);
          const inside = times.filter((time) => time >= window.from && time < window.to);
          expect([...kept].sort((a, b) => a - b)).toEqual(inside);
          // Each moment once.
          expect(union([...recovered, ...gone])).toEqual([window]);
          expect(totalLength(recovered) + totalLength(gone)).toBe(window.to - window.from);
          // Without a value at or before the window, what lies before the first one is gone.
          const reaches = times.some((time) => time <= window.from);
          const first = inside[0] ?? window.to;
          const overwritten = reaches ? [] : [{ from: window.from, to: first }].filter(({ from, to }) => to > from);
          // Before the source was started its silence says nothing: from its last value on.
          const since = Math.max(
            reaches ? window.from : first,
            ...inside.filter((time) => startedAt !== null && time < startedAt),
          );
          const silent =
            startedAt === null || since >= startedAt
              ? []
              : [{ from: since, to: Math.min(startedAt, window.to) }].filter(({ from, to }) => to > from);
          expect(union(restarted)).toEqual(silent);
          expect(union(gone)).toEqual(union([...overwritten, ...silent]));
        },
      ),
    );
  });

  test('that was overwritten while it was fetched is gone from the last value on that was had', () => {
    const { kept, recovered, gone } = outcomeOf(
      { window, cursor: 130, newestFirst: false, startedAt: null },
      { times: [150, 160], more: false, reachesBack: false },
    );
    expect([kept, recovered]).toEqual([[0, 1], [{ from: 150, to: 200 }]]);
    expect(gone).toEqual([{ from: 130, to: 150, loss: 'overwritten' }]);
  });
});

describe('holes', () => {
  const MINUTE = 60_000_000;
  const tags = [7, 3, 5];
  const at = (from: number, to: number, own: readonly number[] | null = null): Hole =>
    newHole({ from: from * MINUTE, to: to * MINUTE }, own, from * MINUTE + 1, tags);

  test('close to each other are one, with both their marks; far apart, begun or of other tags they are two', () => {
    const [joined, ...none] = withHole([at(0, 1)], at(2, 3));
    expect(none).toEqual([]);
    expect(joined).toMatchObject({ from: 0, to: 3 * MINUTE, marks: [1, 2 * MINUTE + 1], upTo: 7 });
    expect(withHole([at(0, 1)], at(2.1, 3))).toHaveLength(2);
    expect(withHole([{ ...at(0, 1), done: 3 }], at(1.5, 3))).toHaveLength(2);
    expect(withHole([{ ...at(0, 1), cursor: 5 }], at(1.5, 3))).toHaveLength(2);
    expect(withHole([at(0, 1)], at(1.5, 3, [5]))).toHaveLength(2);
    expect(withHole([at(0, 1, [5, 3])], at(1.5, 3, [3, 5]))).toHaveLength(1);
  });

  test('a line that flaps a thousand times leaves one', () => {
    let holes: Hole[] = [];
    for (let i = 0; i < 1000; i++) holes = withHole(holes, at(i, i + 0.5));
    expect(holes).toHaveLength(1);
    expect(subtract([{ from: 0, to: 999.5 * MINUTE }], holes)).toEqual([]);
  });

  test('are gone through tag by tag; tags that came later were not missed, and those that left are passed over', () => {
    const order = (hole: Hole, now: readonly number[]): number[] => {
      const found: number[] = [];
      for (let next = nextTag(hole, now); next !== undefined; next = nextTag({ ...hole, done: found.at(-1)! }, now))
        found.push(next);
      return found;
    };
    expect(order(at(0, 1), [7, 3, 5, 9])).toEqual([3, 5, 7]);
    expect(order(at(0, 1), [7, 9])).toEqual([7]);
    expect(order(at(0, 1, [5, 3]), tags)).toEqual([3, 5]);
    expect(order(at(0, 1), [])).toEqual([]);
  });
});

describe('what a backfill comes to', () => {
  const MINUTE = 60_000_000;
  test('counts values by the pace of each tag, and calls by what a source can bear', () => {
    const stretch = { from: 0, to: 10 * MINUTE };
    const { holes, values, calls, seconds } = workloadOf(
      [
        { tag: 1, spans: [stretch], intervalMilliseconds: 1000 },
        { tag: 2, spans: [stretch, { from: 20 * MINUTE, to: 20 * MINUTE + 1 }], intervalMilliseconds: 60_000 },
        { tag: 3, spans: [stretch], intervalMilliseconds: 0 },
      ],
      { valuesPerCall: 10, callsPerSecond: 4 },
    );
    // 600 of the first, 10 and 1 of the second, 6000 of the one that is read as fast as it answers.
    expect([values, calls, seconds]).toEqual([600 + 10 + 1 + 6000, 60 + 1 + 1 + 600, 662 / 4]);
    expect(holes).toEqual([
      { ...stretch, tags: [1, 2, 3] },
      { from: 20 * MINUTE, to: 20 * MINUTE + 1, tags: [2] },
    ]);
  });
});
