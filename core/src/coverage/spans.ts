/** Algebra on spans of time: sorted, disjoint, half-open [from, to) in microseconds. */

export interface Span {
  readonly from: number;
  readonly to: number;
}

/** Sorts spans and joins those that touch or overlap; empty ones vanish. */
export function union(spans: readonly Span[]): Span[] {
  const sorted = spans.filter((span) => span.to > span.from).sort((a, b) => a.from - b.from);
  const joined: { from: number; to: number }[] = [];
  for (const span of sorted) {
    const last = joined.at(-1);
    if (last && span.from <= last.to) last.to = Math.max(last.to, span.to);
    else joined.push({ from: span.from, to: span.to });
  }
  return joined;
}

/** The parts that lie in both; each list sorted and disjoint. */
export function intersect(a: readonly Span[], b: readonly Span[]): Span[] {
  const common: Span[] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const from = Math.max(a[i]!.from, b[j]!.from);
    const to = Math.min(a[i]!.to, b[j]!.to);
    if (to > from) common.push({ from, to });
    if (a[i]!.to < b[j]!.to) i++;
    else j++;
  }
  return common;
}

/** The parts of `a` that are not in `b`; each list sorted and disjoint. */
export function subtract(a: readonly Span[], b: readonly Span[]): Span[] {
  const rest: Span[] = [];
  let j = 0;
  for (const span of a) {
    let from = span.from;
    while (j < b.length && b[j]!.to <= from) j++;
    for (let k = j; k < b.length && b[k]!.from < span.to; k++) {
      if (b[k]!.from > from) rest.push({ from, to: b[k]!.from });
      from = Math.max(from, b[k]!.to);
    }
    if (from < span.to) rest.push({ from, to: span.to });
  }
  return rest;
}

/** The parts of sorted, disjoint spans that lie in a window. */
export const clip = (spans: readonly Span[], window: Span): Span[] => intersect(spans, [window]);

/** The length of disjoint spans together, in microseconds. */
export const totalLength = (spans: readonly Span[]): number =>
  spans.reduce((sum, span) => sum + span.to - span.from, 0);
