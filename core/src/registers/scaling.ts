/** From a raw number to a tag's unit, in a straight line. */

/** What a raw range becomes: of a converter from 0 to 4095, say, a flow from 0 to 250. */
export interface TwoRanges {
  readonly rawLow: number;
  readonly rawHigh: number;
  readonly low: number;
  readonly high: number;
}

/** `value = raw × factor + offset`, or by two ranges where they are given; rounded to `places` decimals where given. */
export interface Scaling {
  readonly factor: number;
  readonly offset: number;
  readonly places?: number | undefined;
  readonly ranges?: TwoRanges | undefined;
}

/** By two ranges; exact at both ends. */
function between(raw: number, { rawLow, rawHigh, low, high }: TwoRanges): number {
  if (raw === rawHigh) return high;
  return low + ((raw - rawLow) * (high - low)) / (rawHigh - rawLow);
}

/** Scales a raw number. Rounding to the sensor's own decimals removes the noise of binary multiplication. */
export function scale(raw: number, scaling: Scaling | undefined): number {
  if (scaling === undefined) return raw;
  const value = scaling.ranges ? between(raw, scaling.ranges) : raw * scaling.factor + scaling.offset;
  if (scaling.places === undefined || !Number.isFinite(value)) return value;
  const power = 10 ** scaling.places;
  return Math.round(value * power) / power;
}
