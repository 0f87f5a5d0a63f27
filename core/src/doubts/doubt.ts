/**
 * What the data themselves betray: stretches that deserve a second look, whatever their status says. A doubt is no
 * verdict; it comes with what it was seen by. Times in microseconds.
 */
import type { Span } from '../coverage/spans.ts';
import type { Movement } from '../sampling/check.ts';

export const DOUBT_KINDS = [
  'stuck',
  'standing',
  'beyond',
  'doubled',
  'backwards',
  'ahead',
  'drifting',
  'too slow',
  'wasteful',
] as const;
export type DoubtKind = (typeof DOUBT_KINDS)[number];

/** It did not move for longer than is usual with it, while its neighbours did. */
export interface Stuck extends Span {
  /** Standing: a counter, which should have counted. */
  readonly kind: 'stuck' | 'standing';
  readonly value: number;
  /** Half of its moves follow the one before within this. */
  readonly usual: number;
  /** The longest rest that is usual. */
  readonly longest: number;
  /** Neighbours that should have moved meanwhile, and those that did. */
  readonly neighbours: number;
  readonly moved: number;
}

/** Its values lay outside what it can be. */
export interface Beyond extends Span {
  readonly kind: 'beyond';
  readonly values: number;
  /** The one that lay farthest out, and the bound that it passed. */
  readonly worst: number;
  readonly bound: number;
}

/** Two values came for the same times. */
export interface Doubled extends Span {
  readonly kind: 'doubled';
  readonly values: number;
  /** Whether the second value was another one. */
  readonly differing: boolean;
}

/** Time stamps ran backwards, or lay ahead of their arrival. */
export interface WrongStamps extends Span {
  readonly kind: 'backwards' | 'ahead';
  readonly values: number;
  /** By how much at most. */
  readonly most: number;
}

/** The clock of a source ran away from the server's. */
export interface Drifting extends Span {
  readonly kind: 'drifting';
  /** Microseconds a day; positive where its stamps fall behind. */
  readonly perDay: number;
  /** How late values came after their stamps, at both ends. */
  readonly lateAtFirst: number;
  readonly lateAtLast: number;
}

/** It is read too seldom for its fastest movement, or far more often than that needs. */
export interface ReadBadly extends Span {
  readonly kind: 'too slow' | 'wasteful';
  /** At which it is read, and one that would fit. */
  readonly intervalMilliseconds: number;
  readonly proposedMilliseconds: number;
  readonly movement: Movement;
}

export type Doubt = Stuck | Beyond | Doubled | WrongStamps | Drifting | ReadBadly;

/** A window is looked through in so many cells: what is shorter than two of them is not told by neighbours. */
export const DOUBT_CELLS = 2000;
/** Of one kind and tag so many are told, the longest. */
export const MOST_DOUBTS = 10;

/** The longest, in the order of time. */
export function longestOnes<One extends Span>(found: readonly One[], most = MOST_DOUBTS): One[] {
  return [...found]
    .sort((a, b) => b.to - b.from - (a.to - a.from))
    .slice(0, most)
    .sort((a, b) => a.from - b.from);
}

/**
 * Stretches joined to a few, the nearest neighbours first: what happens all the time is told once, with how often.
 * @param found in any order. @param join two that are neighbours, the earlier one first.
 */
export function joinedToFew<One extends Span>(
  found: readonly One[],
  join: (earlier: One, later: One) => One,
  most = MOST_DOUBTS,
): One[] {
  const inOrder = [...found].sort((a, b) => a.from - b.from);
  if (inOrder.length <= most) return inOrder;
  const gapBefore = (place: number): number => inOrder[place]!.from - inOrder[place - 1]!.to;
  const places = [...inOrder.keys()].slice(1).sort((a, b) => gapBefore(b) - gapBefore(a));
  const begins = new Set(places.slice(0, most - 1));
  const joined: One[] = [];
  for (const [place, one] of inOrder.entries()) {
    if (place === 0 || begins.has(place)) joined.push(one);
    else joined[joined.length - 1] = join(joined.at(-1)!, one);
  }
  return joined;
}
