/** Holes: stretches that a collector did not watch and that its source may have kept. Microseconds throughout. */
import type { Span } from '../coverage/spans.ts';

export interface Hole extends Span {
  /**
   * When its tags got a Bad sample, by the source's clock, so that nobody takes the last value for the present: it goes
   * once the hole is filled.
   */
  readonly marks: readonly number[];
  /** Ascending; null for all tags of the source. */
  readonly tags: readonly number[] | null;
  /** The greatest number among the tags that the source had then: later ones were not missed. */
  readonly upTo: number;
  /** Tags are looked at in the order of their numbers; up to this one it is done. */
  readonly done: number;
  /** How far the tag after those was read, by the source's clock; null: not begun. */
  readonly cursor: number | null;
  /** What that tag had and is gone for good, as far as it was read, by the source's clock. */
  readonly lost: readonly Span[];
  /** Tags of which something came back, and tags of which something is gone for good. */
  readonly recovered: number;
  readonly gone: number;
  /** The number under which somebody ordered it; null where it was missed, and is fetched by itself. */
  readonly order: number | null;
  /** Fetched for it so far. */
  readonly values: number;
  readonly calls: number;
}

/** Outages this close to each other are read back in one go: a line that flaps is not asked a hundred times over. */
const TOGETHER = 60_000_000;

export const newHole = (
  span: Span,
  tags: readonly number[] | null,
  mark: number | null,
  tagsNow: Iterable<number>,
): Hole => ({
  from: span.from,
  to: span.to,
  marks: mark === null ? [] : [mark],
  tags: tags && [...tags].sort((a, b) => a - b),
  upTo: [...tagsNow].reduce((most, tag) => Math.max(most, tag), 0),
  done: 0,
  cursor: null,
  lost: [],
  recovered: 0,
  gone: 0,
  order: null,
  values: 0,
  calls: 0,
});

const isBegun = ({ done, cursor }: Hole): boolean => done > 0 || cursor !== null;
const sameTags = (a: Hole, b: Hole): boolean =>
  a.tags === null ? b.tags === null && a.upTo === b.upTo : b.tags !== null && a.tags.join() === b.tags.join();

/** Holes with another one after them; joined to the last where that lies close and was not begun. */
export function withHole(holes: readonly Hole[], hole: Hole): Hole[] {
  const near = holes.findIndex(
    (one) =>
      !isBegun(one) &&
      one.order === hole.order &&
      sameTags(one, hole) &&
      hole.from <= one.to + TOGETHER &&
      hole.to >= one.from - TOGETHER,
  );
  if (near < 0) return [...holes, hole];
  const one = holes[near]!;
  const joined: Hole = {
    ...one,
    from: Math.min(one.from, hole.from),
    to: Math.max(one.to, hole.to),
    marks: [...one.marks, ...hole.marks],
  };
  return holes.map((other, i) => (i === near ? joined : other));
}

/** The tag to read next of a hole; undefined when it is done. @param tagsNow of its source, in any order. */
export function nextTag({ tags, upTo, done }: Hole, tagsNow: Iterable<number>): number | undefined {
  const wanted = tags && new Set(tags);
  let next: number | undefined;
  for (const tag of tagsNow) {
    if (tag <= done || tag > upTo || (wanted && !wanted.has(tag))) continue;
    if (next === undefined || tag < next) next = tag;
  }
  return next;
}
