/** Gaps that somebody explained: afterwards, or before, where work was planned. */
import type { LivingGap } from './lives.ts';
import { clip, subtract, type Span } from './spans.ts';

/** What somebody says of a stretch in which nothing was or will be watched. The later one stands. */
export interface GapExplanation extends Span {
  /** 0: the whole source. */
  readonly tag: number;
  readonly by: string;
  readonly reason: string;
}

/** A gap, or a part of one, with what was said of it; null where nobody said anything. */
export interface ExplainedGap extends LivingGap {
  readonly explained: { readonly by: string; readonly reason: string } | null;
}

/**
 * Gaps cut at the edges of what was said of them. What is recovered, or still may be, needs no explanation.
 * @param explanations in the order in which they were given.
 */
export function explainedGaps(gaps: readonly LivingGap[], explanations: readonly GapExplanation[]): ExplainedGap[] {
  const latestFirst = [...explanations].reverse();
  return gaps.flatMap((gap) => {
    if (gap.state === 'recovered' || gap.state === 'being recovered') return [{ ...gap, explained: null }];
    let left: Span[] = [gap];
    const parts: ExplainedGap[] = [];
    for (const said of latestFirst) {
      const own = left.flatMap((span) => clip([said], span));
      const { by, reason } = said;
      parts.push(...own.map(({ from, to }) => ({ ...gap, from, to, explained: { by, reason } })));
      left = subtract(left, own);
    }
    return [...parts, ...left.map(({ from, to }) => ({ ...gap, from, to, explained: null }))].sort(
      (a, b) => a.from - b.from,
    );
  });
}
