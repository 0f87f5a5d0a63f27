/** What a part of a source's own history says about a hole. Times in microseconds, by the source's clock. */
import { clip, subtract, union, type Span } from '../coverage/spans.ts';

/** How far a tag of a hole has been read. */
export interface ReadSoFar {
  /** The window of the hole. */
  readonly window: Span;
  /** Up to where it was read, or down to where; null: not begun. */
  readonly cursor: number | null;
  readonly newestFirst: boolean;
  /** When the source itself was started last; null where it does not tell. */
  readonly startedAt: number | null;
}

/** One answer of the source. */
export interface HistoryReading {
  /** Ascending, or descending where the newest were asked for first. */
  readonly times: readonly number[];
  /** Whether more will come. */
  readonly more: boolean;
  /** Whether the source has a value at or before the start of what was asked for; null where this answer does not tell. */
  readonly reachesBack: boolean | null;
}

/** Why a stretch is gone: dropped by the source since, or nothing tells whether the source was there at all. */
export type Loss = 'overwritten' | 'restarted';

export interface ReadOutcome {
  /** Positions of the samples to keep. */
  readonly kept: readonly number[];
  /** What is known now, beside what was known before. */
  readonly recovered: readonly Span[];
  /** What the source does not have any more. */
  readonly gone: readonly (Span & { readonly loss: Loss })[];
  readonly cursor: number;
}

/**
 * What an answer fills of a hole. A value at or before its start vouches that nothing since was dropped: whatever is kept
 * in a ring goes oldest first. Without one, what lies before the first value is gone. Silence of the source says that
 * nothing changed, but not before it was started: it may have been off.
 */
export function outcomeOf({ window, cursor, newestFirst, startedAt }: ReadSoFar, reading: HistoryReading): ReadOutcome {
  const { times, more, reachesBack } = reading;
  const kept = times.flatMap((time, i) => (time >= window.from && time < window.to ? [i] : []));
  const inside = kept.map((i) => times[i]!).sort((a, b) => a - b);
  const [first, last] = [inside[0], inside.at(-1)];
  // The stretch that this answer is about.
  const below = newestFirst ? (more ? (first ?? cursor ?? window.to) : window.from) : (cursor ?? window.from);
  const above = newestFirst ? (cursor ?? window.to) : more ? (last ?? below) : window.to;
  const begin = reachesBack === false ? Math.min(first ?? above, above) : below;
  const [overwritten] = clip([{ from: below, to: begin }], window);
  const edges = [begin, ...inside.filter((time) => time > begin && time < above), above];
  const at =
    startedAt === null ? -1 : edges.findIndex((edge, i) => edge < startedAt && (edges[i + 1] ?? 0) >= startedAt);
  // Started only after all of this: from its last value on nothing vouches for it.
  const late = at < 0 && startedAt !== null && startedAt > above && above === window.to ? edges.length - 2 : at;
  const [restarted] =
    late < 0 || startedAt === null ? [] : clip([{ from: edges[late]!, to: Math.min(startedAt, above) }], window);
  const gone = [
    ...(overwritten ? [{ ...overwritten, loss: 'overwritten' as const }] : []),
    ...(restarted ? [{ ...restarted, loss: 'restarted' as const }] : []),
  ];
  return {
    kept,
    recovered: subtract(union([{ from: begin, to: above }]), union(gone)),
    gone,
    cursor: newestFirst ? below : Math.max(above, below),
  };
}
