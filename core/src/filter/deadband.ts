/** Which values are worth keeping: deadband against the last kept value, with a longest silence. */
import type { Range } from '../samples/range.ts';

export type Deadband =
  | { readonly kind: 'none' }
  | { readonly kind: 'absolute'; readonly width: number }
  | { readonly kind: 'percent'; readonly percent: number };

export interface KeptSample {
  readonly time: number;
  readonly value: number | string;
  readonly status: number;
}

/** Width of a deadband in the tag's unit; percent needs the tag's range and is no deadband without one. */
export function deadbandWidth(deadband: Deadband, range: Range | null): number {
  if (deadband.kind === 'absolute') return deadband.width;
  if (deadband.kind === 'percent' && range) return ((range.high - range.low) * deadband.percent) / 100;
  return 0;
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
