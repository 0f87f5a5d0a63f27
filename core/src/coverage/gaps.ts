/** Gaps: time in which a tag should have been collected, minus what was watched or recovered. */
import { firstBeyond } from './spanIndex.ts';
import { clip, subtract, union, type Span } from './spans.ts';

/** Why nothing was watched, in the words of the issue list: what the collector said about itself and its sources. */
export const GAP_CAUSES = ['source', 'collector', 'configuration', 'tag', 'clock', 'link', 'unknown'] as const;
export type GapCause = (typeof GAP_CAUSES)[number];

/** A stretch in which a collector could not watch a source, as it reported it. */
export interface Outage extends Span {
  readonly cause: GapCause;
  readonly sentence: string;
  readonly code: string | null;
  readonly recoverable: boolean;
}

export interface Gap extends Span {
  readonly cause: GapCause;
  readonly sentence: string;
  readonly code: string | null;
  readonly recoverable: boolean;
}

/** A gap without a reported outage: nobody was there to report, so the collector itself was away. */
const UNREPORTED = {
  cause: 'collector',
  sentence: 'The collector was not running or not configured for this.',
  code: null,
  recoverable: false,
} as const;

/**
 * The gaps of one tag in a window.
 * @param expected spans in which it was in force and meant to be collected.
 * @param watched spans that a collector watched or that were recovered.
 * @param outages what the collectors reported; the longest overlap names the gap.
 */
export function findGaps(
  window: Span,
  expected: readonly Span[],
  watched: readonly Span[],
  outages: readonly Outage[],
): Gap[] {
  const byStart = [...outages].sort((a, b) => a.from - b.from);
  // The greatest end so far: outages before the first that reaches a gap need not be looked at.
  let reached = -Infinity;
  const ends = byStart.map(({ to }) => (reached = Math.max(reached, to)));
  return subtract(clip(union(expected), window), union(watched)).map((gap) => {
    let best: Outage | undefined;
    let bestOverlap = 0;
    for (let i = firstBeyond(ends, gap.from); i < byStart.length && byStart[i]!.from < gap.to; i++) {
      const outage = byStart[i]!;
      const overlap = Math.min(outage.to, gap.to) - Math.max(outage.from, gap.from);
      if (overlap > bestOverlap) [best, bestOverlap] = [outage, overlap];
    }
    const { cause, sentence, code, recoverable } = best ?? UNREPORTED;
    return { ...gap, cause, sentence, code, recoverable };
  });
}
