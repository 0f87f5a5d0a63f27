/** The least and the greatest value per pixel column: what a trend draws, however many samples lie behind it. */
import type { Frame } from '../frame/frame.ts';
import { isBad } from '../status/codes.ts';

/**
 * Points to draw, in time order. In each column: the first, least, greatest and last value that is not Bad, each
 * once and at its own time, so that a line through them covers the same pixels as one through all samples.
 * A Bad sample is a point without a value (NaN): the line breaks there.
 */
export interface Envelope {
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly status: Uint32Array;
}

/** Envelope of ordered samples over [from, to) in so many columns. Short series come back as they are. */
export function envelopeOf(frame: Frame, from: number, to: number, columns: number): Envelope {
  const { times, values, status } = frame;
  const n = times.length;
  if (n <= columns * 4) {
    return { times, values: values.map((value, i) => (isBad(status[i]!) ? NaN : value)), status };
  }
  const picked: number[] = [];
  const width = (to - from) / columns;
  let i = 0;
  while (i < n) {
    const column = Math.floor((times[i]! - from) / width);
    const edge = from + (column + 1) * width;
    const first = i;
    let [least, greatest, last, bad] = [-1, -1, -1, -1];
    let firstUsable = -1;
    do {
      if (isBad(status[i]!) || Number.isNaN(values[i]!)) {
        bad = i;
      } else {
        if (firstUsable < 0) firstUsable = i;
        if (least < 0 || values[i]! < values[least]!) least = i;
        if (greatest < 0 || values[i]! > values[greatest]!) greatest = i;
        last = i;
      }
      i++;
    } while (i < n && times[i]! < edge);
    const chosen = [firstUsable, least, greatest, last, bad].filter((index) => index >= first);
    chosen.sort((a, b) => a - b);
    chosen.forEach((index, k) => {
      if (k === 0 || index !== chosen[k - 1]) picked.push(index);
    });
  }
  return {
    times: Float64Array.from(picked, (k) => times[k]!),
    values: Float64Array.from(picked, (k) => (isBad(status[k]!) ? NaN : values[k]!)),
    status: Uint32Array.from(picked, (k) => status[k]!),
  };
}
