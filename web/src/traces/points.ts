/** What a trend draws, from what the server sends. */
import type { EnvelopeAnswer } from '@wide-ledger/contract';

export interface Point {
  x: number;
  y: number | null;
}

/** A point of a trace under the pointer; time in milliseconds. */
export interface Hovered {
  readonly tag: string;
  readonly unit: string;
  readonly time: number;
}

/** Points with a break at every gap: a line never crosses what was not watched. */
export function pointsOf({ times, values, gaps }: EnvelopeAnswer): Point[] {
  const points: Point[] = [];
  let gap = 0;
  times.forEach((x, i) => {
    while (gap < gaps.length && gaps[gap]!.from < x) {
      if (points.length > 0) points.push({ x: gaps[gap]!.from, y: null });
      gap++;
    }
    points.push({ x, y: values[i]! });
  });
  return points;
}
