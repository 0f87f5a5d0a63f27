/** Whether two tags tell the same: one signal read along two paths, compared value by value. */
import { severityOf } from '../status/codes.ts';

export interface TimedValue {
  /** Microseconds since 1970. */
  readonly time: number;
  readonly value: number | null;
  readonly status: number;
}

export interface AgreementSettings {
  /** By how much the second is late against the first, in microseconds: it is read that much later. */
  readonly offset: number;
  /** Differences up to this, in the tags' unit, are none. */
  readonly tolerance: number;
  /** Whether the second holds between its values; else it lies on the line between them. */
  readonly stepped: boolean;
}

export interface Difference {
  readonly time: number;
  readonly first: number;
  readonly second: number;
  /** The first minus the second. */
  readonly difference: number;
}

export interface Agreement {
  /** Differences at every usable value of the first to which the second has one. */
  readonly differences: readonly Difference[];
  /** Usable values of the first to which the second has none. */
  readonly alone: number;
  readonly beyond: number;
  /** Of all differences: the mean, and the mean of their sizes. NaN where there is none. */
  readonly mean: number;
  readonly meanSize: number;
  readonly largest: Difference | null;
}

type Usable = readonly { readonly time: number; readonly value: number }[];

const usable = (samples: readonly TimedValue[]): (Usable[number] | null)[] =>
  samples.map(({ time, value, status }) => (value === null || severityOf(status) === 'Bad' ? null : { time, value }));

/**
 * Compares two tags at the times of the first.
 * A Bad value of the second is a hole: nothing is interpolated or held across it.
 * @param first,second in ascending time.
 */
export function agreementOf(
  first: readonly TimedValue[],
  second: readonly TimedValue[],
  { offset, tolerance, stepped }: AgreementSettings,
): Agreement {
  const held = usable(second);
  const differences: Difference[] = [];
  let alone = 0;
  let at = 0;
  for (const one of usable(first)) {
    if (!one) continue;
    const time = one.time + offset;
    while (at < second.length && second[at]!.time <= time) at++;
    const value = between(held[at - 1] ?? null, held[at] ?? null, time, stepped);
    if (value === null) alone++;
    else differences.push({ time: one.time, first: one.value, second: value, difference: one.value - value });
  }
  const count = differences.length;
  const sum = (of: (difference: number) => number): number =>
    differences.reduce((total, { difference }) => total + of(difference), 0);
  return {
    differences,
    alone,
    beyond: differences.filter(({ difference }) => Math.abs(difference) > tolerance).length,
    mean: count === 0 ? NaN : sum((one) => one) / count,
    meanSize: count === 0 ? NaN : sum(Math.abs) / count,
    largest: differences.reduce<Difference | null>(
      (most, one) => (most === null || Math.abs(one.difference) > Math.abs(most.difference) ? one : most),
      null,
    ),
  };
}

function between(
  before: Usable[number] | null,
  after: Usable[number] | null,
  time: number,
  stepped: boolean,
): number | null {
  if (!before) return null;
  if (before.time === time || (stepped && after)) return before.value;
  if (!after) return null;
  return before.value + ((after.value - before.value) * (time - before.time)) / (after.time - before.time);
}

/**
 * The offset at which two tags agree best: that with the smallest mean size of differences among steps to both sides.
 * @param step,steps microseconds from one offset to the next, and how many to each side.
 */
export function bestOffset(
  first: readonly TimedValue[],
  second: readonly TimedValue[],
  settings: Omit<AgreementSettings, 'offset'>,
  step: number,
  steps: number,
): { readonly offset: number; readonly meanSize: number } | null {
  let best: { offset: number; meanSize: number } | null = null;
  // From the middle outwards: of equals the smallest offset stands.
  for (let i = 0; i <= 2 * steps; i++) {
    const offset = step * (i % 2 === 0 ? -i / 2 : (i + 1) / 2);
    const { meanSize, differences, alone } = agreementOf(first, second, { ...settings, offset });
    // What is compared at the edges only says little.
    if (differences.length === 0 || differences.length < alone) continue;
    if (best === null || meanSize < best.meanSize) best = { offset, meanSize };
  }
  return best;
}
