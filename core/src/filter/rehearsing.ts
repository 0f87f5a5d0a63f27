/**
 * Settings of keeping tried on what was recorded of a tag: what would have been kept, how much it takes, how far what is
 * left out lies from what one would read, and what becomes of the hourly figures.
 */
import { computeAggregates } from '../aggregates/compute.ts';
import { DEFAULT_CONFIGURATION } from '../aggregates/configuration.ts';
import { seriesOf, type Columns } from '../aggregates/series.ts';
import { encodeFrame } from '../frame/codec.ts';
import { isBad } from '../status/codes.ts';
import { cutIntoBuckets, type Bucket } from '../time/buckets.ts';
import type { Movement } from '../sampling/check.ts';
import { DAY, HOUR, SECOND } from '../time/instants.ts';
import type { Deadband } from './deadband.ts';
import { SeriesKeeping, type KeepingSettings } from './keeping.ts';

/** Aggregates whose hours are compared. */
export const REHEARSED_AGGREGATES = ['TimeAverage2', 'Total2', 'Minimum2', 'Maximum2'] as const;

export interface RehearsedKeeping extends KeepingSettings {
  /** How often the tag would be read. Microseconds; 0: as often as it was. */
  readonly interval: number;
}

/** How a figure of the hours differs from the one of everything. */
export interface HourlyDifference {
  readonly aggregate: (typeof REHEARSED_AGGREGATES)[number];
  readonly largest: number;
  readonly mean: number;
  /** Beginning of the hour in which it is largest; null where no hour has both figures. */
  readonly at: number | null;
  readonly hours: number;
}

export interface KeepingOutcome {
  /** Positions of what is kept, in what was recorded. */
  readonly kept: Uint32Array;
  /** Of the kept samples as the ledger packs them, and of all. */
  readonly bytes: number;
  readonly bytesBefore: number;
  readonly bytesPerDay: number;
  /** Largest and mean distance between a recorded value and what is read at its time, in the tag's unit. */
  readonly largestError: number;
  readonly meanError: number;
  readonly largestErrorAt: number | null;
  readonly hourly: readonly HourlyDifference[];
}

/** What was recorded of one tag, with what of it does not depend on settings: it is tried with many. */
export class KeepingRehearsal {
  private readonly bytesBefore: number;
  private readonly hours: readonly Bucket[];
  private readonly hourlyBefore: readonly Float64Array[];

  /**
   * @param recorded samples of one tag in ascending time; bad ones without a value are NaN.
   * @param stepped whether the tag's value holds until the next one; else lines are drawn between.
   */
  constructor(
    readonly recorded: Columns,
    private readonly stepped: boolean,
  ) {
    const { times } = recorded;
    this.bytesBefore = bytesOf(recorded);
    const from = Math.ceil((times[0] ?? 0) / HOUR) * HOUR;
    const to = Math.floor((times.at(-1) ?? 0) / HOUR) * HOUR;
    this.hours = to <= from ? [] : cutIntoBuckets(from, to, { kind: 'fixed', micros: HOUR }, 'UTC');
    this.hourlyBefore = this.hourly(recorded);
  }

  /** What would be kept by these settings, and what that costs. */
  try(settings: RehearsedKeeping): KeepingOutcome {
    const { recorded } = this;
    const kept = keptOf(recorded, settings);
    const after = pick(recorded, kept);
    const { times } = recorded;
    const days = times.length < 2 ? 0 : (times.at(-1)! - times[0]!) / DAY;
    const bytes = bytesOf(after);
    return {
      kept,
      bytes,
      bytesBefore: this.bytesBefore,
      bytesPerDay: days === 0 ? 0 : bytes / days,
      ...errorsOf(recorded, kept, this.stepped),
      hourly: this.differences(this.hourly(after)),
    };
  }

  /** The aggregates of each hour, a column each; NaN where an hour has none. */
  private hourly(columns: Columns): readonly Float64Array[] {
    if (this.hours.length === 0) return REHEARSED_AGGREGATES.map(() => new Float64Array());
    const series = seriesOf(columns, this.recorded.times.at(-1));
    const configuration = { ...DEFAULT_CONFIGURATION, stepped: this.stepped };
    return computeAggregates(series, this.hours, REHEARSED_AGGREGATES, configuration).map((results) =>
      Float64Array.from(results, ({ value }) => value),
    );
  }

  private differences(after: readonly Float64Array[]): HourlyDifference[] {
    return REHEARSED_AGGREGATES.map((aggregate, n) => {
      let [largest, sum, hours] = [0, 0, 0];
      let at: number | null = null;
      this.hours.forEach(({ begin }, i) => {
        const difference = Math.abs(this.hourlyBefore[n]![i]! - after[n]![i]!);
        if (!Number.isFinite(difference)) return;
        hours++;
        sum += difference;
        if (at !== null && difference <= largest) return;
        largest = difference;
        at = begin;
      });
      return { aggregate, largest, mean: hours === 0 ? 0 : sum / hours, at, hours };
    });
  }
}

/** Positions of what would be read at the interval, and then kept. */
function keptOf({ times, values, status }: Columns, settings: RehearsedKeeping): Uint32Array {
  const keeping = new SeriesKeeping<{ time: number; value: number; status: number; position: number }>(settings);
  const kept: number[] = [];
  const take = (position: number): void => {
    const sample = { time: times[position]!, value: values[position]!, status: status[position]!, position };
    for (const one of keeping.take(sample)) kept.push(one.position);
  };
  const { interval } = settings;
  for (let i = 0; i < times.length; i++) {
    // What is read on a beat is the newest by then: another one before the same beat is never seen.
    const unseen =
      interval > 0 && i + 1 < times.length && Math.ceil(times[i]! / interval) === Math.ceil(times[i + 1]! / interval);
    if (!unseen) take(i);
  }
  const held = keeping.end();
  if (held) kept.push(held.position);
  return Uint32Array.from(kept);
}

function pick({ times, values, status }: Columns, positions: Uint32Array): Columns {
  const picked = {
    times: new Float64Array(positions.length),
    values: new Float64Array(positions.length),
    status: new Uint32Array(positions.length),
  };
  positions.forEach((position, i) => {
    picked.times[i] = times[position]!;
    picked.values[i] = values[position]!;
    picked.status[i] = status[position]!;
  });
  return picked;
}

/** A block of the ledger holds so many at most. */
const BLOCK = 4096;

function bytesOf({ times, values, status }: Columns): number {
  let bytes = 0;
  for (let from = 0; from < times.length; from += BLOCK) {
    const [begin, end] = [from, Math.min(times.length, from + BLOCK)];
    const cut = <Column extends Float64Array | Uint32Array>(column: Column) => column.slice(begin, end) as Column;
    const frame = { times: cut(times), values: cut(values), status: cut(status) };
    bytes += encodeFrame({ ...frame, tags: null, origins: new Uint8Array(end - begin), texts: [] }).length;
  }
  return bytes;
}

const MOST = Number.MAX_VALUE;

function errorsOf(
  { times, values, status }: Columns,
  kept: Uint32Array,
  stepped: boolean,
): Pick<KeepingOutcome, 'largestError' | 'meanError' | 'largestErrorAt'> {
  let [largestError, sum, count] = [0, 0, 0];
  let largestErrorAt: number | null = null;
  for (let k = 0; k < kept.length; k++) {
    const from = kept[k]!;
    const to = kept[k + 1];
    const line = !stepped && to !== undefined && status[to] === status[from] && Number.isFinite(values[to]);
    const slope = line ? (values[to]! - values[from]!) / (times[to]! - times[from]!) : 0;
    for (let i = from; i < (to ?? times.length); i++) {
      const off = values[i]! - (values[from]! + slope * (times[i]! - times[from]!));
      const error = off < 0 ? -off : off;
      // Without a value on either side it is NaN.
      if (!(error <= MOST) || isBad(status[i]!)) continue;
      sum += error;
      count++;
      if (error <= largestError) continue;
      largestError = error;
      largestErrorAt = times[i]!;
    }
  }
  return { largestError, meanError: count === 0 ? 0 : sum / count, largestErrorAt };
}

export interface ProposedDeadband {
  readonly deadband: Deadband;
  /** Standard deviation of the noise, in the tag's unit. */
  readonly noise: number;
  readonly sentence: string;
}

/** Times the noise that a width is: what is noise alone passes once in 370 (three standard deviations of a normal one). */
const WIDTHS = 3;

/**
 * A deadband out of the noise that a tag has: of three neighbours at even distances the middle one lies off the line of
 * the others by noise alone, where nothing moves that fast. The median of these distances is not moved by what jumps.
 * The factor is that of a normal distribution: median |x| = 0.6745 σ, and x[i−1] − 2·x[i] + x[i+1] has √6 σ. Common
 * practice, no source.
 * @param movement the fastest one: where it bends more between neighbours than they scatter, nobody can tell it from noise.
 * @returns null there, where there are too few good values, and where none of them differ.
 */
export function proposeDeadband(
  { times, values, status }: Columns,
  movement: Movement | null = null,
): ProposedDeadband | null {
  const bends: number[] = [];
  for (let i = 1; i + 1 < values.length; i++) {
    const bend = Math.abs(values[i - 1]! - 2 * values[i]! + values[i + 1]!);
    if (Number.isFinite(bend) && !isBad(status[i]!)) bends.push(bend);
  }
  if (bends.length < 20) return null;
  const sorted = Float64Array.from(bends).sort();
  const noise = sorted[sorted.length >> 1]! / 0.6745 / Math.sqrt(6);
  if (noise === 0) return null;
  const step = times.length < 2 ? 0 : (times.at(-1)! - times[0]!) / (times.length - 1) / SECOND;
  const bent = movement === null ? 0 : movement.amplitude * ((2 * Math.PI * step) / movement.period) ** 2;
  // Their root mean squares: of a sinusoid's bends, and of what noise makes of three neighbours.
  if (bent / Math.SQRT2 > (noise * Math.sqrt(6)) / 2) return null;
  const width = roundUp(WIDTHS * noise);
  return {
    deadband: { kind: 'absolute', width },
    noise,
    sentence: `Neighbouring values scatter by ${rounded(noise)} (one standard deviation). Three times that, rounded up, is ${rounded(width)}: noise alone passes it once in a few hundred values.`,
  };
}

const rounded = (value: number): string => String(Number(value.toPrecision(2)));

/** Figures of one or two digits that people take for round. */
const ROUND = [1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10];

/** The next round figure. */
function roundUp(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  const step = ROUND.find((one) => one * power >= value * (1 - 1e-9))!;
  return Number((step * power).toPrecision(2));
}
