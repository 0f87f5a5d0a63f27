/**
 * A frame is a columnar run of samples: the one representation of many samples, everywhere.
 *
 * - `times`: microseconds since 1970-01-01T00:00Z, whole numbers (safe in a double until the year 2255).
 * - `values`: numbers; booleans as 0 and 1; states as their number; for text the position in `texts`. A frame
 *   holds either numbers or text: with `texts` every value is a position, without them none is.
 *   NaN stands for "no value" (a Bad sample without one).
 * - `status`: OPC UA status codes.
 * - `tags`: the tag of each sample, in an entry's frame; null in a ledger block's, which holds one tag.
 * - `wholes`: 64-bit integers, where some are beyond what a double holds exactly; `values` then are the doubles next
 *   to them. Absent or null in every other frame.
 * - `origins`: how each sample got in, in a ledger block's frame; null in an entry's, which has one origin.
 */
export interface Frame {
  readonly tags: Uint32Array | null;
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly status: Uint32Array;
  readonly origins: Uint8Array | null;
  readonly texts: readonly string[];
  readonly wholes?: BigInt64Array | null;
}

/** Largest number of samples in a frame: keeps a hostile header from reserving the machine's memory. */
export const MAXIMUM_FRAME_SAMPLES = 1_000_000;

/** Microseconds whose frame arithmetic stays exact: about the years 1685 to 2255. */
export const MAXIMUM_TIME = 9_000_000_000_000_000;

/** A frame of so many samples, all 0 and Good at 0, to be filled in. @param columns which of the optional ones it has. */
export function emptyFrame(length = 0, columns: { tags?: boolean; origins?: boolean } = {}): Frame {
  return {
    tags: columns.tags ? new Uint32Array(length) : null,
    times: new Float64Array(length),
    values: new Float64Array(length),
    status: new Uint32Array(length),
    origins: columns.origins ? new Uint8Array(length) : null,
    texts: [],
  };
}

/** The tags that occur in an entry's frame, each once. Neighbours are mostly of one tag, hence the shortcut. */
export function tagsIn(tags: Uint32Array): number[] {
  const seen = new Set<number>();
  for (let i = 0; i < tags.length; i++) if (i === 0 || tags[i] !== tags[i - 1]) seen.add(tags[i]!);
  return [...seen];
}

/** The samples at positions [from, to) of a frame, sharing memory with it. */
export function sliceFrame(frame: Frame, from: number, to: number): Frame {
  return {
    tags: frame.tags?.subarray(from, to) ?? null,
    times: frame.times.subarray(from, to),
    values: frame.values.subarray(from, to),
    status: frame.status.subarray(from, to),
    origins: frame.origins?.subarray(from, to) ?? null,
    texts: frame.texts,
    wholes: frame.wholes?.subarray(from, to) ?? null,
  };
}

/** The double next to the greatest of 64-bit integers. */
export const MOST_WHOLE = 2 ** 63;

/**
 * The whole number that a double is, as far as 64 bits reach; 2^63 stands for itself, since it is the double next to
 * the greatest of them. 0 where it is none: no value, a fraction (in a frame that holds other tags' whole numbers too).
 */
export const wholeOf = (value: number): bigint =>
  Number.isInteger(value) && Math.abs(value) <= MOST_WHOLE ? BigInt(value) : 0n;

/** Whether a value is a 64-bit whole number of which a double may not hold every digit. */
export const isBeyondDouble = (value: number): boolean =>
  Number.isInteger(value) && !Number.isSafeInteger(value) && Math.abs(value) <= MOST_WHOLE;

/** Whether 64 bits with a sign hold a whole number. */
export const isWhole64 = (whole: bigint): boolean => BigInt.asIntN(64, whole) === whole;

/**
 * The 64-bit integer beside a value, where the double does not say it all; null elsewhere. Frames hold a column of them
 * for all of their samples, so beside a fraction there stands one that means nothing.
 */
export const wholeAt = ({ values, wholes }: Pick<Frame, 'values' | 'wholes'>, index: number): bigint | null =>
  wholes && isBeyondDouble(values[index]!) ? wholes[index]! : null;

/** As {@link wholeOf}, but one that 64 bits hold. */
export const toWhole = (value: number): bigint => (value === MOST_WHOLE ? BigInt(MOST_WHOLE) - 1n : wholeOf(value));
