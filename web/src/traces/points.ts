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

/** The least and the greatest per stretch of time, as two lines that break at gaps. */
export interface Band {
  readonly low: readonly Point[];
  readonly high: readonly Point[];
}

/** Share of the whole range that a line covers at every place from which on it is a block of ink. */
const SOLID = 0.3;
const FEWEST = 200;

/** Whether a line through these points would fill its area: then their range says more than the line. */
export function isSolid({ samples, values }: EnvelopeAnswer): boolean {
  if (values.length < FEWEST || samples < 4 * values.length) return false;
  let [low, high, travel] = [Infinity, -Infinity, 0];
  let before: number | null = null;
  for (const value of values) {
    if (value !== null) {
      low = Math.min(low, value);
      high = Math.max(high, value);
      if (before !== null) travel += Math.abs(value - before);
    }
    before = value;
  }
  return travel > SOLID * (high - low) * values.length;
}

/** @param stretches into which the window is cut. */
export function bandOf(answer: EnvelopeAnswer, stretches: number): Band {
  const { from, to } = answer;
  const [low, high]: [Point[], Point[]] = [[], []];
  let at = -1;
  for (const { x, y } of pointsOf(answer)) {
    if (y === null) {
      low.push({ x, y });
      high.push({ x, y });
      at = -1;
      continue;
    }
    const stretch = Math.floor(((x - from) / (to - from)) * stretches);
    const [lowest, highest] = [low.at(-1), high.at(-1)];
    if (stretch === at && lowest && highest) {
      lowest.y = Math.min(lowest.y!, y);
      highest.y = Math.max(highest.y!, y);
    } else {
      low.push({ x, y });
      high.push({ x, y });
    }
    at = stretch;
  }
  return { low, high };
}
