/** How complete the record of tags is, cell by cell of a calendar, over the time in which they were meant to be collected. */
import type { ExplainedGap } from './explanations.ts';
import { clip, totalLength, type Span } from './spans.ts';

/** Of one cell, in microseconds of tags: two tags over a second are two seconds. */
export interface Completeness {
  /** When collecting was meant to be. */
  readonly due: number;
  /** What of it was neither watched nor recovered. */
  readonly missing: number;
  /** What of that somebody explained. */
  readonly explained: number;
}

export const NOTHING_DUE: Completeness = { due: 0, missing: 0, explained: 0 };

/** @param cells ascending, without overlap. @param due disjoint. @param gaps within it, disjoint; what was recovered is none. */
export function completenessOf(
  cells: readonly Span[],
  due: readonly Span[],
  gaps: readonly Pick<ExplainedGap, 'from' | 'to' | 'explained'>[],
): Completeness[] {
  const explained = gaps.filter((gap) => gap.explained !== null);
  return cells.map((cell) => ({
    due: totalLength(clip(due, cell)),
    missing: totalLength(clip(gaps, cell)),
    explained: totalLength(clip(explained, cell)),
  }));
}

/** Cells of several, one by one. @param times how often the second is counted. */
export const addCompleteness = (a: readonly Completeness[], b: readonly Completeness[], times = 1): Completeness[] =>
  b.map((cell, i) => ({
    due: (a[i]?.due ?? 0) + times * cell.due,
    missing: (a[i]?.missing ?? 0) + times * cell.missing,
    explained: (a[i]?.explained ?? 0) + times * cell.explained,
  }));

/** All cells as one. */
export const sumOf = (cells: readonly Completeness[]): Completeness =>
  cells.reduce((sum, cell) => addCompleteness([sum], [cell])[0]!, NOTHING_DUE);

/** The share that is there, in per cent; null where nothing was due. */
export const completePercent = ({ due, missing }: Completeness): number | null =>
  due > 0 ? 100 * (1 - missing / due) : null;
