/** Samples of one tag in ascending time. Status in OPC UA codes, times in microseconds since 1970. */
export interface Columns {
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly status: Uint32Array;
}

/** One tag's samples with the end of its data. */
export interface Series extends Columns {
  /**
   * Where the data end (decision D1): the last sample's time, or the end of the watch that goes on beyond it,
   * since a value that was still watched is known to be held.
   */
  readonly dataEnd: number;
}

/** A series whose data end with its last sample, or where the watch beyond it ends. */
export function seriesOf({ times, values, status }: Columns, watchedUntil = -Infinity): Series {
  return { times, values, status, dataEnd: Math.max(times[times.length - 1] ?? -Infinity, watchedUntil) };
}

/** Index of the first sample at or after a time, among those at positions [from, to). */
export function firstAtOrAfter(times: Float64Array, time: number, from = 0, to = times.length): number {
  let low = from;
  let high = to;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (times[middle]! < time) low = middle + 1;
    else high = middle;
  }
  return low;
}
