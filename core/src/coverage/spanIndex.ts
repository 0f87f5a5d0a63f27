/** Many spans, asked for those near one of them: without a walk through all. */
import type { Span } from './spans.ts';

/** The first position in ascending numbers that lies beyond a limit. */
export function firstBeyond(ascending: readonly number[], limit: number): number {
  let [low, high] = [0, ascending.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ascending[middle]! > limit) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Spans by their starts, overlapping or not. */
export class SpanIndex<One extends Span> {
  private readonly sorted: readonly One[];
  /** The greatest end so far: spans before the first that reaches a place need not be looked at. */
  private readonly reached: readonly number[];

  constructor(spans: readonly One[]) {
    this.sorted = [...spans].sort((a, b) => a.from - b.from);
    let reached = -Infinity;
    this.reached = this.sorted.map(({ to }) => (reached = Math.max(reached, to)));
  }

  /** Those that overlap or touch a span, in the order of their starts. */
  near({ from, to }: Span): One[] {
    const found: One[] = [];
    // Ends that lie before the start: one less than it, since those that touch it count.
    for (let i = firstBeyond(this.reached, from - 1); i < this.sorted.length && this.sorted[i]!.from <= to; i++)
      if (this.sorted[i]!.to >= from) found.push(this.sorted[i]!);
    return found;
  }
}
