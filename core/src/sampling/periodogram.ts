/**
 * The spectrum of values at uneven times: the periodogram of Lomb (1976) and Scargle (1982), as the share of what the
 * values scatter that a sinusoid of each frequency explains.
 */

/** A sinusoid that was fitted: a·cos(2πf·t) + b·sin(2πf·t). */
export interface Sinusoid {
  /** Hertz, for times in seconds. */
  readonly frequency: number;
  readonly cosine: number;
  readonly sine: number;
  /** Share of the squares of the values that it explains, from 0 to 1. */
  readonly share: number;
}

/** The sums from which the best sinusoid of a frequency follows. */
interface Sums {
  readonly cc: number;
  readonly ss: number;
  readonly cs: number;
  readonly yc: number;
  readonly ys: number;
}

/** Least squares of cosine and sine at once: what Lomb's shift of time comes to, without the shift. */
function sinusoidOf(frequency: number, { cc, ss, cs, yc, ys }: Sums, squares: number): Sinusoid {
  const area = cc * ss - cs * cs;
  if (area <= 1e-12 * cc * ss || squares === 0) return { frequency, cosine: 0, sine: 0, share: 0 };
  const cosine = (yc * ss - ys * cs) / area;
  const sine = (ys * cc - yc * cs) / area;
  return { frequency, cosine, sine, share: Math.min(1, (cosine * yc + sine * ys) / squares) };
}

/** The best sinusoid of a frequency. @param values with a mean of zero @param squares their sum of squares */
export function fitSinusoid(times: Float64Array, values: Float64Array, squares: number, frequency: number): Sinusoid {
  return sweep(times, values, squares, frequency, 0, 1);
}

/** The sinusoid that explains most among frequencies at even steps. */
export function sweep(
  times: Float64Array,
  values: Float64Array,
  squares: number,
  first: number,
  step: number,
  count: number,
): Sinusoid {
  let best: Sinusoid = { frequency: first, cosine: 0, sine: 0, share: -1 };
  walk(times, values, squares, first, step, count, (found) => {
    if (found.share > best.share) best = found;
  });
  return best;
}

/**
 * The best sinusoid of each of some frequencies at even steps. From one frequency to the next the angle of each sample
 * grows by the same, so none of their sines has to be looked up again.
 */
export function walk(
  times: Float64Array,
  values: Float64Array,
  squares: number,
  first: number,
  step: number,
  count: number,
  meet: (found: Sinusoid) => void,
): void {
  const length = times.length;
  const [cosines, sines] = [new Float64Array(length), new Float64Array(length)];
  const [turnCosines, turnSines] = [new Float64Array(length), new Float64Array(length)];
  for (let i = 0; i < length; i++) {
    const angle = 2 * Math.PI * times[i]!;
    cosines[i] = Math.cos(angle * first);
    sines[i] = Math.sin(angle * first);
    turnCosines[i] = Math.cos(angle * step);
    turnSines[i] = Math.sin(angle * step);
  }
  for (let k = 0; k < count; k++) {
    let [cc, cs, yc, ys] = [0, 0, 0, 0];
    for (let i = 0; i < length; i++) {
      const c = cosines[i]!;
      const s = sines[i]!;
      const y = values[i]!;
      cc += c * c;
      cs += c * s;
      yc += y * c;
      ys += y * s;
      cosines[i] = c * turnCosines[i]! - s * turnSines[i]!;
      sines[i] = s * turnCosines[i]! + c * turnSines[i]!;
    }
    // The squares of a cosine and its sine are one.
    meet(sinusoidOf(first + k * step, { cc, ss: length - cc, cs, yc, ys }, squares));
  }
}

/** Shares for frequencies, in their order. @param values with a mean of zero */
export function periodogram(times: Float64Array, values: Float64Array, frequencies: readonly number[]): number[] {
  const squares = sumOfSquares(values);
  return frequencies.map((frequency) => fitSinusoid(times, values, squares, frequency).share);
}

export const sumOfSquares = (values: Float64Array): number => values.reduce((sum, value) => sum + value * value, 0);
