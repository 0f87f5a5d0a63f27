/** What a block says about itself without being opened. */
import type { Frame } from '../frame/frame.ts';
import { isGood } from '../status/codes.ts';

export interface Summary {
  readonly firstTime: number;
  readonly lastTime: number;
  readonly count: number;
  readonly goodCount: number;
  /** Least, greatest and sum of the Good values; null when there is none. */
  readonly least: number | null;
  readonly greatest: number | null;
  readonly sum: number | null;
}

/** Summary of an ordered, non-empty frame. For text the extremes and the sum mean nothing and are null. */
export function summarise(frame: Frame): Summary {
  const { times, values, status } = frame;
  let goodCount = 0;
  let least = Infinity;
  let greatest = -Infinity;
  let sum = 0;
  for (let i = 0; i < times.length; i++) {
    const value = values[i]!;
    if (!isGood(status[i]!) || Number.isNaN(value)) continue;
    goodCount++;
    if (value < least) least = value;
    if (value > greatest) greatest = value;
    sum += value;
  }
  const numeric = goodCount > 0 && frame.texts.length === 0;
  return {
    firstTime: times[0]!,
    lastTime: times[times.length - 1]!,
    count: times.length,
    goodCount,
    least: numeric ? least : null,
    greatest: numeric ? greatest : null,
    sum: numeric ? sum : null,
  };
}
