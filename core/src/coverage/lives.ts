/** What becomes of gaps: open, being recovered, recovered, or gone for good. */
import type { Gap } from './gaps.ts';
import { clip, subtract, union, type Span } from './spans.ts';

export const GAP_STATES = ['open', 'being recovered', 'recovered', 'gone'] as const;
export type GapState = (typeof GAP_STATES)[number];

/** How it stands with a stretch that was missed, as its collector reported it. */
export interface Recovery extends Span {
  /** 0: the whole source. */
  readonly tag: number;
  /** `gone` of a tag is an exception to `recovered` of its source. */
  readonly outcome: 'wanted' | 'recovered' | 'gone';
  readonly sentence: string;
}

/** A gap, or a part of one, with what became of it. */
export interface LivingGap extends Gap {
  readonly state: GapState;
  /** Why it is gone, or how it was recovered where that is told; else empty. */
  readonly fate: string;
}

/** What is known of the recovery of a source, or of one tag of it. */
export interface Fates {
  readonly recovered: readonly Span[];
  /** Those recovered of which it is told how. */
  readonly filled: readonly Recovery[];
  readonly gone: readonly Recovery[];
  readonly wanted: readonly Span[];
}

/**
 * The fates of a tag, or of the source as a whole (tag 0).
 * @param ofSource recoveries told of the whole source. @param ofTag those told of the tag.
 */
export function fatesOf(ofSource: readonly Recovery[], ofTag: readonly Recovery[]): Fates {
  const those = (list: readonly Recovery[], outcome: Recovery['outcome']): Recovery[] =>
    list.filter((one) => one.outcome === outcome);
  const gone = [...those(ofSource, 'gone'), ...those(ofTag, 'gone')];
  const whole = subtract(union(those(ofSource, 'recovered')), union(those(ofTag, 'gone')));
  return {
    recovered: union([...whole, ...those(ofTag, 'recovered')]),
    filled: those([...ofSource, ...ofTag], 'recovered').filter(({ sentence }) => sentence !== ''),
    gone,
    wanted: union([...those(ofSource, 'wanted'), ...those(ofTag, 'wanted')]),
  };
}

/** Gaps cut where their fates differ, in ascending time. */
export function livesOf(gaps: readonly Gap[], { recovered, filled, gone, wanted }: Fates): LivingGap[] {
  const lost = union(gone);
  return gaps.flatMap((gap) => {
    const parts = (spans: readonly Span[], state: GapState): LivingGap[] =>
      spans.map(({ from, to }) => {
        const told = state === 'gone' ? gone : state === 'recovered' ? filled : [];
        const why = told.find((one) => one.from < to && one.to > from);
        return { ...gap, from, to, state, fate: why?.sentence ?? '' };
      });
    const back = clip(recovered, gap);
    const rest = subtract([gap], back);
    const dead = rest.flatMap((span) => clip(lost, span));
    const left = subtract(rest, dead);
    const asked = left.flatMap((span) => clip(wanted, span));
    return [
      ...parts(back, 'recovered'),
      ...parts(dead, 'gone'),
      ...parts(asked, 'being recovered'),
      ...parts(subtract(left, asked), 'open'),
    ].sort((a, b) => a.from - b.from);
  });
}
