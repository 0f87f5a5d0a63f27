import { firstAtOrAfter } from './series.ts';

/**
 * Every interval that a stretch of time overlaps, with the part of the stretch that lies in it.
 * @param edges of adjoining intervals in ascending time.
 */
export function spread(
  edges: Float64Array,
  from: number,
  to: number,
  visit: (interval: number, begin: number, end: number) => void,
): void {
  const intervals = edges.length - 1;
  if (to <= edges[0]! || from >= edges[intervals]! || to <= from) return;
  let index = from <= edges[0]! ? 0 : firstAtOrAfter(edges, from + 1) - 1;
  for (; index < intervals && edges[index]! < to; index++) {
    visit(index, Math.max(from, edges[index]!), Math.min(to, edges[index + 1]!));
  }
}
