/** What a backfill comes to before it begins: which stretches of which tags, how many calls, how long. */
import type { Span } from '../coverage/spans.ts';

/** A tag of which something is wanted. Microseconds. */
export interface WantedTag {
  readonly tag: number;
  readonly spans: readonly Span[];
  /** It is read this often, in milliseconds; 0: as fast as its source answers. */
  readonly intervalMilliseconds: number;
}

export interface Workload {
  /** Tags of which the same stretch is wanted, together. */
  readonly holes: readonly (Span & { readonly tags: readonly number[] })[];
  /** At most so many, where every read gave a value. */
  readonly values: number;
  readonly calls: number;
  readonly seconds: number;
}

/** What reading as fast as a source answers is taken for, where nothing is known of it. Milliseconds. */
const AS_IT_ANSWERS = 100;

/**
 * @param valuesPerCall that the source can bear.
 * @param callsPerSecond at most.
 */
export function workloadOf(
  wanted: readonly WantedTag[],
  { valuesPerCall, callsPerSecond }: { readonly valuesPerCall: number; readonly callsPerSecond: number },
): Workload {
  const byStretch = new Map<string, Span & { tags: number[] }>();
  let [values, calls] = [0, 0];
  for (const { tag, spans, intervalMilliseconds } of wanted)
    for (const { from, to } of spans) {
      const key = `${from} ${to}`;
      const known = byStretch.get(key);
      if (known) known.tags.push(tag);
      else byStretch.set(key, { from, to, tags: [tag] });
      const own = Math.ceil((to - from) / 1000 / (intervalMilliseconds || AS_IT_ANSWERS));
      values += own;
      // A call that finds nothing is one, too.
      calls += Math.max(1, Math.ceil(own / valuesPerCall));
    }
  const holes = [...byStretch.values()].sort((a, b) => a.from - b.from);
  return { holes, values, calls, seconds: calls / callsPerSecond };
}
