/**
 * Whether a tag is read often enough: the fastest movement that matters in what was recorded, and what reading at an
 * interval makes of it.
 */
import type { Columns } from '../aggregates/series.ts';
import { isBad } from '../status/codes.ts';
import { sumOfSquares, sweep, walk, type Sinusoid } from './periodogram.ts';

/** Samples that are looked at: the newest, without a gap. */
export const MOST_SAMPLED = 2048;
const FEWEST = 64;
/** Movements that are looked for, the largest first. */
const MOVEMENTS = 6;
/** A movement matters that is so much of what the values scatter about their slope. */
const MATTERS = 0.02;
/** And one that noise alone would hardly make: so many times what it comes to on average at a frequency (2/n). */
const BEYOND_NOISE = 12;
/** Samples of a period from which on it is drawn well enough: the worst loss of a peak is then 4.9 %. Common practice, no source. */
export const ENOUGH = 10;
/** From so many on most of them say nothing new. */
const WASTEFUL = 200;

export interface Movement {
  /** Seconds. */
  readonly period: number;
  /** In the tag's unit. */
  readonly amplitude: number;
  /** Of what the values scatter about their slope. */
  readonly share: number;
}

/** What reading at an interval makes of a movement. */
export interface Sampled {
  /** Seconds. */
  readonly interval: number;
  readonly samplesPerPeriod: number;
  /** The period that one would see in its place, in seconds; null: its own; Infinity: it stands still. */
  readonly folded: number | null;
  /** How much of a peak may be missed at worst, from 0 to 1. */
  readonly peakLoss: number;
  readonly verdict: 'too slow' | 'fits' | 'wasteful';
  /** An interval that would fit, in milliseconds: a round one. */
  readonly proposed: number;
}

/**
 * The fastest movement that matters. It can be no faster than half of how often was recorded.
 * @param recorded samples in ascending time, microseconds; null where there are too few, or nothing moves beyond noise
 */
export function fastestMovement(recorded: Columns): Movement | null {
  const looked = lookedAt(recorded);
  if (!looked) return null;
  const { times, rest, lowest, highest } = looked;
  const count = times.length;
  const all = sumOfSquares(rest);
  const found: Movement[] = [];
  for (let n = 0; n < MOVEMENTS; n++) {
    const squares = sumOfSquares(rest);
    const best = strongest(times, rest, squares, lowest, highest);
    if (best.share < BEYOND_NOISE * (2 / count)) break;
    const share = (best.share * squares) / all;
    if (share < MATTERS) break;
    const { frequency, cosine, sine } = best;
    found.push({ period: 1 / frequency, amplitude: Math.hypot(cosine, sine), share });
    for (let i = 0; i < count; i++) {
      const angle = 2 * Math.PI * frequency * times[i]!;
      rest[i]! -= cosine * Math.cos(angle) + sine * Math.sin(angle);
    }
  }
  return found.length === 0 ? null : found.reduce((fastest, one) => (one.period < fastest.period ? one : fastest));
}

/** A stretch of periods, by the strongest sinusoid in it. */
export interface SpectrumBand {
  /** Seconds. */
  readonly period: number;
  /** Of what the values scatter about their slope, from 0 to 1. */
  readonly share: number;
}

/** What moves how much, the longest periods first. @param bands at most so many, each a like factor wide */
export function spectrumOf(recorded: Columns, bands = 160): readonly SpectrumBand[] {
  const looked = lookedAt(recorded);
  if (!looked) return [];
  const { times, rest, lowest, highest } = looked;
  const found = new Map<number, SpectrumBand>();
  walk(times, rest, sumOfSquares(rest), lowest, lowest, Math.floor(highest / lowest), ({ frequency, share }) => {
    const band = Math.floor((bands * Math.log(frequency / lowest)) / Math.log((highest * 1.0001) / lowest));
    if (share > (found.get(band)?.share ?? -1)) found.set(band, { period: 1 / frequency, share });
  });
  return [...found.values()];
}

/** What is looked at: values about their slope, and the frequencies that they can tell of. Null where there is too little. */
function lookedAt(
  recorded: Columns,
): { times: Float64Array; rest: Float64Array; lowest: number; highest: number } | null {
  const { times, values } = newest(recorded);
  const count = times.length;
  if (count < FEWEST) return null;
  const rest = withoutSlope(times, values);
  const span = times[count - 1]! - times[0]!;
  if (!(sumOfSquares(rest) > 0) || !(span > 0)) return null;
  const steps = Float64Array.from({ length: count - 1 }, (_, i) => times[i + 1]! - times[i]!).sort();
  return { times, rest, lowest: 1 / span, highest: 0.5 / steps[steps.length >> 1]! };
}

/** The newest samples with a value, up to a gap; times in seconds from the first of them. */
function newest({ times, values, status }: Columns): { times: Float64Array; values: Float64Array } {
  const taken: number[] = [];
  for (let i = times.length - 1; i >= 0 && taken.length < MOST_SAMPLED; i--) {
    if (isBad(status[i]!) || !Number.isFinite(values[i])) {
      if (taken.length >= FEWEST) break;
      taken.length = 0;
    } else taken.push(i);
  }
  taken.reverse();
  const begin = times[taken[0] ?? 0] ?? 0;
  return {
    times: Float64Array.from(taken, (i) => (times[i]! - begin) / 1e6),
    values: Float64Array.from(taken, (i) => values[i]!),
  };
}

/** Values about the straight line through all of them. */
function withoutSlope(times: Float64Array, values: Float64Array): Float64Array {
  const count = times.length;
  const mean = (of: Float64Array): number => of.reduce((sum, one) => sum + one, 0) / count;
  const [middle, level] = [mean(times), mean(values)];
  let [moved, spread] = [0, 0];
  for (let i = 0; i < count; i++) {
    moved += (times[i]! - middle) * (values[i]! - level);
    spread += (times[i]! - middle) ** 2;
  }
  const slope = spread === 0 ? 0 : moved / spread;
  return values.map((value, i) => value - level - slope * (times[i]! - middle));
}

/** The sinusoid that explains most, on a grid as fine as the span can tell, then closer around it. */
function strongest(
  times: Float64Array,
  values: Float64Array,
  squares: number,
  lowest: number,
  highest: number,
): Sinusoid {
  const { frequency } = sweep(times, values, squares, lowest, lowest, Math.floor(highest / lowest));
  const near = Math.max(lowest / 2, frequency - lowest);
  return sweep(times, values, squares, near, lowest / 8, 17);
}

/** The frequency that shows when one is read at a rate: |f − r·round(f/r)|. */
export const foldedFrequency = (frequency: number, rate: number): number =>
  Math.abs(frequency - rate * Math.round(frequency / rate));

/** How much of a sinusoid's peak may lie between samples at worst: 1 − cos(π/N) of N samples a period. */
export const worstPeakLoss = (samplesPerPeriod: number): number =>
  samplesPerPeriod <= 1 ? 1 : Math.min(1, 1 - Math.cos(Math.PI / samplesPerPeriod));

/** Intervals that people choose. Milliseconds. */
const INTERVALS = [50, 100, 200, 500, 1000, 2000, 5000, 10_000, 30_000, 60_000, 300_000, 600_000, 3_600_000];

/** @param interval at which it is read, in seconds */
export function sampledAt({ period }: Pick<Movement, 'period'>, interval: number): Sampled {
  const samplesPerPeriod = period / interval;
  const seen = foldedFrequency(1 / period, 1 / interval);
  const folded = samplesPerPeriod > 2 ? null : seen < 1e-12 ? Infinity : 1 / seen;
  const wanted = (period / ENOUGH) * 1000;
  return {
    interval,
    samplesPerPeriod,
    folded,
    peakLoss: worstPeakLoss(samplesPerPeriod),
    verdict: samplesPerPeriod < ENOUGH ? 'too slow' : samplesPerPeriod > WASTEFUL ? 'wasteful' : 'fits',
    proposed: INTERVALS.findLast((one) => one <= wanted) ?? INTERVALS[0]!,
  };
}
