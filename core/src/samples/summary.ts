/** What a block says about itself without being opened. */
import { endOfRun, summariseRun, type RunSummary } from '../aggregates/run.ts';
import type { Frame } from '../frame/frame.ts';
import { isGood, isUncertain } from '../status/codes.ts';

export interface Summary {
  readonly firstTime: number;
  readonly lastTime: number;
  readonly count: number;
  readonly goodCount: number;
  readonly uncertainCount: number;
  /** Least, greatest and sum of the Good values; null when there is none. */
  readonly least: number | null;
  readonly greatest: number | null;
  readonly sum: number | null;
  /** Of a block of plain samples: all that any aggregate needs of it. Null where the block has to be opened. */
  readonly run: RunSummary | null;
}

/** Summary of an ordered, non-empty frame. For text the extremes and the sum mean nothing and are null. */
export function summarise(frame: Frame): Summary {
  const { times, values, status } = frame;
  const n = times.length;
  const numeric = frame.texts.length === 0;
  const plain = numeric && !frame.wholes && endOfRun(values, status, 0, n) === n;
  let goodCount = 0;
  let uncertainCount = 0;
  let least = Infinity;
  let greatest = -Infinity;
  let sum = 0;
  for (let i = 0; i < n; i++) {
    const value = values[i]!;
    if (isUncertain(status[i]!)) uncertainCount++;
    if (!isGood(status[i]!) || Number.isNaN(value)) continue;
    goodCount++;
    if (value < least) least = value;
    if (value > greatest) greatest = value;
    sum += value;
  }
  const known = goodCount > 0 && numeric;
  return {
    firstTime: times[0]!,
    lastTime: times[n - 1]!,
    count: n,
    goodCount,
    uncertainCount,
    least: known ? least : null,
    greatest: known ? greatest : null,
    sum: known ? sum : null,
    run: plain ? summariseRun(times, values, 0, n) : null,
  };
}
