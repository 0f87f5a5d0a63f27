/** Duty: the time in which a tag should have been collected, out of what was in force when. */
import { intersect, union, type Span } from '../coverage/spans.ts';

/** What a version of a tag says about its being collected, while it was in force. Microseconds; Infinity: still is. */
export interface TagDuty extends Span {
  /** Number of the source it is read from; null: values are sent to it, and nobody has to watch. */
  readonly source: number | null;
  readonly paused: boolean;
}

/** The same for a source. */
export interface SourceDuty extends Span {
  readonly source: number;
  readonly paused: boolean;
}

/** A span of duty with the source that has to be watched in it. */
export interface DutySpan extends Span {
  readonly source: number;
}

/**
 * The spans of a tag's duty, whatever the order in which the versions are given: it was in force, had a source, and
 * neither of the two was paused. Spans of one source that touch are one.
 */
export function dutyOf(tag: readonly TagDuty[], sources: readonly SourceDuty[]): DutySpan[] {
  const wanted = new Map<number, Span[]>();
  for (const { source, paused, from, to } of tag) {
    if (source === null || paused) continue;
    wanted.set(source, [...(wanted.get(source) ?? []), { from, to }]);
  }
  return [...wanted]
    .flatMap(([source, spans]) => {
      const open = sources.filter((one) => one.source === source && !one.paused);
      return intersect(union(spans), union(open)).map((span) => ({ ...span, source }));
    })
    .sort((a, b) => a.from - b.from || a.source - b.source);
}
