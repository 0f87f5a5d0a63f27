import { isBad, isGood, isUncertain } from '../status/codes.ts';
import type { AggregateConfiguration } from './configuration.ts';

/** One tag's samples in ascending time: what every aggregate is computed from. */
export interface Series {
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly status: Uint32Array;
  /**
   * Where the data end (decision D1): the last sample's time, or the end of the watch that goes on beyond it,
   * since a value that was still watched is known to be held.
   */
  readonly dataEnd: number;
}

/** A series whose data end with its last sample. */
export function seriesOf(columns: Pick<Series, 'times' | 'values' | 'status'>, watchedUntil = -Infinity): Series {
  const { times, values, status } = columns;
  return { times, values, status, dataEnd: Math.max(times[times.length - 1] ?? -Infinity, watchedUntil) };
}

/** Index of the first sample at or after a time. */
export function firstAtOrAfter(times: Float64Array, time: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (times[middle]! < time) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Whether a status counts as Bad in a calculation: Bad itself, and Uncertain where it is to be treated as Bad. */
export const countsAsBad = (status: number, configuration: AggregateConfiguration): boolean =>
  status !== 0 && (isBad(status) || (configuration.treatUncertainAsBad && !isGood(status)));

export type Quality = 'good' | 'uncertain' | 'bad';

/** The quality of a region that starts with this status. */
export function qualityOf(status: number, configuration: AggregateConfiguration): Quality {
  if (countsAsBad(status, configuration)) return 'bad';
  return isUncertain(status) ? 'uncertain' : 'good';
}
