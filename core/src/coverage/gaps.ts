/** Gaps: time in which a tag should have been collected, minus what was watched or recovered. */
import { clip, subtract, union, type Span } from './spans.ts';

/** Why nothing was watched, in the words of the issue list: what the collector said about itself and its sources. */
export const GAP_CAUSES = ['source', 'collector', 'configuration', 'tag', 'clock', 'unknown'] as const;
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
  return subtract(clip(union(expected), window), union(watched)).map((gap) => {
    let best: Outage | undefined;
    let bestOverlap = 0;
    for (const outage of outages) {
      const overlap = Math.min(outage.to, gap.to) - Math.max(outage.from, gap.from);
      if (overlap > bestOverlap) [best, bestOverlap] = [outage, overlap];
    }
    const { cause, sentence, code, recoverable } = best ?? UNREPORTED;
    return { ...gap, cause, sentence, code, recoverable };
  });
}
