/**
 * How often something usually happens with a tag (values that come, values that move), and which silence is longer than
 * that explains. Robust: a few long silences change nothing of it. Times in microseconds.
 */

/** How the values of a tag come, by those that were looked at. */
export interface Rhythm {
  /** How many times it was estimated from. */
  readonly values: number;
  /** Half of the values follow the one before within this. */
  readonly usual: number;
  /** A silence that is longer is taken for a gap. */
  readonly longest: number;
}

/** Fewer values tell nothing of a rhythm. */
export const FEWEST_VALUES = 11;
/** One value that was left out is missed; what comes half an interval late is not. */
const LATE = 1.5;
/** The outer fence of Tukey, Exploratory Data Analysis (1977), section 2D: so many times the middle half. */
const OUTER_FENCE = 3;
/** Keepers of the longest silence may be late by so much. */
const SILENCE_LATE = 1.1;

/** Where silences are looked at, by how many are shorter. */
const QUARTERS = [0.25, 0.5, 0.75] as const;
/** What one silence in twenty reaches is usual: nights, week-ends. */
const MOST = 0.95;

/** The longest silence that is usual: the outer fence, by the logarithms. @param low @param high where a quarter and three quarters of all are shorter. */
const longestOf = ({
  low,
  high,
  most,
}: {
  readonly low: number;
  readonly high: number;
  readonly most: number;
}): number => Math.max(high * (high / low) ** OUTER_FENCE, LATE * most);

/**
 * Estimates the rhythm from times at which values came. What one silence in twenty reaches is usual with this tag (nights,
 * week-ends), and so is what lies within the outer fence of the others, by their logarithms: a quiet tag is no gap.
 * @param times ascending, none twice. @param longestSilence after which a value is kept anyway; null where that is not said.
 * @returns null where there are too few.
 */
export function rhythmOf(times: ArrayLike<number>, longestSilence: number | null = null): Rhythm | null {
  if (times.length < FEWEST_VALUES) return null;
  const silences = new Float64Array(times.length - 1);
  for (let i = 0; i < silences.length; i++) silences[i] = times[i + 1]! - times[i]!;
  silences.sort();
  const at = (share: number): number => silences[Math.min(silences.length - 1, Math.floor(share * silences.length))]!;
  const [low, usual, high] = [at(QUARTERS[0]), at(QUARTERS[1]), at(QUARTERS[2])];
  const longest = longestOf({ low, high, most: at(MOST) });
  return { values: times.length, usual, longest: Math.max(longest, SILENCE_LATE * (longestSilence ?? 0)) };
}

/** The same from silences that are told one by one, however many: they are counted by their logarithms. */
export class RhythmBook {
  private readonly counts = new Uint32Array(BINS);
  private silences = 0;

  /** @param length of a silence, over 0. */
  take(length: number): void {
    this.counts[Math.min(BINS - 1, Math.max(0, Math.floor(Math.log2(length) * BINS_PER_OCTAVE)))]!++;
    this.silences++;
  }

  /** Within a twentieth of what {@link rhythmOf} says of the quartiles; null where there are too few. */
  rhythm(): Rhythm | null {
    if (this.silences < FEWEST_VALUES - 1) return null;
    const [low, usual, high] = QUARTERS.map((share) => this.at(share)) as [number, number, number];
    return { values: this.silences + 1, usual, longest: longestOf({ low, high, most: this.at(MOST) }) };
  }

  /** The middle of the bin in which so large a share is shorter. */
  private at(share: number): number {
    let left = Math.min(this.silences - 1, Math.floor(share * this.silences));
    let bin = 0;
    while (left >= this.counts[bin]!) left -= this.counts[bin++]!;
    return 2 ** ((bin + 0.5) / BINS_PER_OCTAVE);
  }
}

const BINS_PER_OCTAVE = 16;
/** Up to 2^55 microseconds, a thousand years. */
const BINS = 55 * BINS_PER_OCTAVE;
