/** Which values are worth keeping: deadband against the last kept value or along lines, with a longest silence. */
import type { Range } from '../samples/range.ts';

export type Deadband =
  | { readonly kind: 'none' }
  | { readonly kind: 'absolute'; readonly width: number }
  | { readonly kind: 'percent'; readonly percent: number }
  /** Along lines between kept values, none of what is left out further from them than that. */
  | { readonly kind: 'line'; readonly width: number }
  | { readonly kind: 'line percent'; readonly percent: number };

export interface KeptSample {
  readonly time: number;
  readonly value: number | string;
  readonly status: number;
}

const percentOf = (range: Range | null, percent: number): number =>
  range === null ? 0 : ((range.high - range.low) * percent) / 100;

/** Width of a deadband in the tag's unit; percent needs the tag's range and is no deadband without one. */
export function deadbandWidth(deadband: Deadband, range: Range | null): number {
  if (deadband.kind === 'absolute') return deadband.width;
  return deadband.kind === 'percent' ? percentOf(range, deadband.percent) : 0;
}

/** How far a value that is left out may lie from the line, in the tag's unit; null: nothing is left out along lines. */
export function lineWidth(deadband: Deadband, range: Range | null): number | null {
  if (deadband.kind === 'line') return deadband.width;
  return deadband.kind === 'line percent' && range ? percentOf(range, deadband.percent) : null;
}

/**
 * Whether a sample is kept, given the last kept one. A changed status always passes; with a width of zero every
 * sample passes; otherwise the value has to have moved by more than the width, text by being different.
 */
export function isKept(
  sample: KeptSample,
  last: KeptSample | undefined,
  width: number,
  longestSilence: number | null,
): boolean {
  if (sample.status !== last?.status || width === 0) return true;
  if (longestSilence !== null && sample.time - last.time >= longestSilence) return true;
  if (typeof sample.value === 'number' && typeof last.value === 'number') {
    if (Number.isNaN(sample.value) || Number.isNaN(last.value)) return !Object.is(sample.value, last.value);
    return Math.abs(sample.value - last.value) > width;
  }
  return sample.value !== last.value;
}
