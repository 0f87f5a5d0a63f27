/** Every aggregate by its OPC 10000-13 name, and how a request for several of them is answered. */
import type { Bucket } from '../time/buckets.ts';
import * as byBound from './byBound.ts';
import * as byDuration from './byDuration.ts';
import * as byTime from './byTime.ts';
import * as byValue from './byValue.ts';
import type { AggregateConfiguration } from './configuration.ts';
import * as extremes from './extremes.ts';
import { viewInterval } from './interval.ts';
import { AggregatePass, type PassedIntervals } from './pass.ts';

import { noData, type Aggregate, type AggregateResult } from './result.ts';
import type { RunParts, RunSummary } from './run.ts';
import { firstAtOrAfter, type Columns, type Series } from './series.ts';

const AGGREGATES = {
  Interpolative: byBound.interpolative,
  Average: byValue.average,
  TimeAverage: byTime.timeAverage,
  TimeAverage2: byTime.timeAverage2,
  Total: byTime.total,
  Total2: byTime.total2,
  Minimum: extremes.minimum,
  Maximum: extremes.maximum,
  MinimumActualTime: extremes.minimumActualTime,
  MaximumActualTime: extremes.maximumActualTime,
  Range: extremes.range,
  Minimum2: extremes.minimum2,
  Maximum2: extremes.maximum2,
  MinimumActualTime2: extremes.minimumActualTime2,
  MaximumActualTime2: extremes.maximumActualTime2,
  Range2: extremes.range2,
  AnnotationCount: byValue.annotationCount,
  Count: byValue.count,
  DurationInStateZero: byDuration.durationInStateZero,
  DurationInStateNonZero: byDuration.durationInStateNonZero,
  NumberOfTransitions: byValue.numberOfTransitions,
  Start: byValue.start,
  End: byValue.end,
  Delta: byValue.delta,
  StartBound: byBound.startBound,
  EndBound: byBound.endBound,
  DeltaBounds: byBound.deltaBounds,
  DurationGood: byDuration.durationGood,
  DurationBad: byDuration.durationBad,
  PercentGood: byDuration.percentGood,
  PercentBad: byDuration.percentBad,
  WorstQuality: byDuration.worstQualityOfValues,
  WorstQuality2: byDuration.worstQuality2,
  StandardDeviationSample: byValue.standardDeviationSample,
  VarianceSample: byValue.varianceSample,
  StandardDeviationPopulation: byValue.standardDeviationPopulation,
  VariancePopulation: byValue.variancePopulation,
} as const satisfies Record<string, Aggregate>;

export type AggregateName = keyof typeof AGGREGATES;
/** Names of all aggregates, as OPC 10000-13 has them, in the order in which they are offered. */
export const AGGREGATE_NAMES = Object.keys(AGGREGATES) as [AggregateName, ...AggregateName[]];

/** Aggregates that answer outside the data too: with bounds, which know for themselves whether there are any. */
const OUTSIDE_DATA: ReadonlySet<AggregateName> = new Set([
  'Interpolative',
  'StartBound',
  'EndBound',
  'DeltaBounds',
  'AnnotationCount',
]);

/** Aggregates that make sense for text, whose values are positions in a list. */
export const TEXT_AGGREGATES: ReadonlySet<AggregateName> = new Set([
  'Interpolative',
  'AnnotationCount',
  'Count',
  'Start',
  'End',
  'StartBound',
  'EndBound',
  'NumberOfTransitions',
  'DurationGood',
  'DurationBad',
  'PercentGood',
  'PercentBad',
  'WorstQuality',
  'WorstQuality2',
]);

/** Aggregates whose result is a value of the tag itself, to be shown in the tag's own type. */
export const OWN_VALUE_AGGREGATES: ReadonlySet<AggregateName> = new Set([
  'Interpolative',
  'Start',
  'End',
  'StartBound',
  'EndBound',
  'Minimum',
  'Maximum',
  'MinimumActualTime',
  'MaximumActualTime',
  'Minimum2',
  'Maximum2',
  'MinimumActualTime2',
  'MaximumActualTime2',
]);

const isOneOf = (pattern: RegExp) => (name: AggregateName) => pattern.test(name);

/** What a request needs of the samples: a single average does not pay for the rest. */
export function partsFor(names: readonly AggregateName[], stepped: boolean): RunParts {
  const sloped = names.some(isOneOf(/^(TimeAverage|Total)$/));
  const usable = names.some(isOneOf(/^(TimeAverage2|Total2)$/));
  const squares = names.some(isOneOf(/^(StandardDeviation|Variance)/));
  return {
    sums: squares || names.includes('Average'),
    squares,
    extremes: squares || names.some(isOneOf(/^(Minimum|Maximum|Range)/)),
    slopedArea: sloped || (usable && !stepped),
    held: (usable && stepped) || names.some(isOneOf(/^(DurationInState|NumberOfTransitions)/)),
  };
}

/** The request's intervals as edges in ascending time. */
export interface Edges {
  readonly times: Float64Array;
  readonly reverse: boolean;
}

/** @param buckets one after the other, as {@link cutIntoBuckets} cuts them; at least one. */
export function edgesOf(buckets: readonly Bucket[]): Edges {
  const reverse = buckets[0]!.begin > buckets[0]!.finish;
  const times = new Float64Array(buckets.length + 1);
  // A bucket ends where the next one begins.
  buckets.forEach(({ begin }, i) => (times[i] = begin));
  times[buckets.length] = buckets[buckets.length - 1]!.finish;
  return { times: reverse ? times.reverse() : times, reverse };
}

/** How many of some times (ascending) each of the intervals holds. */
function countIn(times: Float64Array, { times: edges, reverse }: Edges): number[] {
  if (times.length === 0) return new Array<number>(edges.length - 1).fill(0);
  const at = Array.from(edges, (edge) => firstAtOrAfter(times, edge + (reverse ? 1 : 0)));
  return at.slice(1).map((end, i) => end - at[i]!);
}

/** One aggregate's results, one per bucket in the order of the buckets; as {@link AggregateResult} says of each. */
export interface ResultColumns {
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly status: Uint32Array;
  /** NaN where the value was computed. */
  readonly sampleTimes: Float64Array;
}

/**
 * Several aggregates over the same buckets, from samples and summaries that pass by once in ascending time. Only the
 * results are kept. Buckets before the start or after the end of the data give Bad_NoData.
 */
export class AggregateCalculation {
  readonly parts: RunParts;
  /** First and last microsecond of the window, in ascending order. */
  readonly from: number;
  readonly to: number;
  private readonly pass: AggregatePass;
  private readonly columns: readonly ResultColumns[];
  private readonly annotated: readonly number[];
  private readonly reverse: boolean;

  /** @param annotations annotated times in ascending order. */
  constructor(
    private readonly buckets: readonly Bucket[],
    private readonly names: readonly AggregateName[],
    private readonly configuration: AggregateConfiguration,
    annotations: Float64Array = new Float64Array(0),
  ) {
    const edges = edgesOf(buckets);
    this.reverse = edges.reverse;
    this.from = edges.times[0]!;
    this.to = edges.times[buckets.length]!;
    this.parts = partsFor(names, configuration.stepped);
    this.annotated = countIn(annotations, edges);
    this.columns = names.map(() => ({
      times: new Float64Array(buckets.length),
      values: new Float64Array(buckets.length),
      status: new Uint32Array(buckets.length),
      sampleTimes: new Float64Array(buckets.length),
    }));
    const take = (passed: PassedIntervals, index: number): void => this.takeInterval(passed, index);
    this.pass = new AggregatePass(edges.times, edges.reverse, configuration, this.parts, take);
  }

  private takeInterval(passed: PassedIntervals, index: number): void {
    const place = this.reverse ? this.buckets.length - 1 - index : index;
    const view = viewInterval(passed, index, this.buckets[place]!, this.configuration, this.annotated[index]!);
    for (let k = 0; k < this.names.length; k++) {
      const name = this.names[k]!;
      const result = view.empty && !OUTSIDE_DATA.has(name) ? noData(view) : AGGREGATES[name](view);
      const { times, values, status, sampleTimes } = this.columns[k]!;
      times[place] = result.time;
      values[place] = result.value;
      status[place] = result.status;
      sampleTimes[place] = result.sampleTime ?? NaN;
    }
  }

  /** Whether a run of plain samples may pass as its summary. */
  takesWhole(firstTime: number, lastTime: number): boolean {
    return this.pass.takesWhole(firstTime, lastTime);
  }

  take(columns: Columns): void {
    this.pass.take(columns);
  }

  takeSummary(run: RunSummary): void {
    this.pass.takeSummary(run);
  }

  /** @param watchedUntil where the tag was watched beyond its last sample (D1). */
  finish(watchedUntil = -Infinity): readonly ResultColumns[] {
    this.pass.finish(watchedUntil);
    return this.columns;
  }
}

/** A column's results one by one. */
export const resultsIn = ({ times, values, status }: ResultColumns): AggregateResult[] =>
  Array.from(times, (time, i) => ({ time, value: values[i]!, status: status[i]! }));

/**
 * Aggregates of a series that is at hand. It has to reach beyond the buckets on both sides: to the nearest usable
 * sample, and at least to the nearest sample.
 * @returns for each name one result per bucket.
 */
export function computeAggregates(
  series: Series,
  buckets: readonly Bucket[],
  names: readonly AggregateName[],
  configuration: AggregateConfiguration,
  annotations?: Float64Array,
): AggregateResult[][] {
  const calculation = new AggregateCalculation(buckets, names, configuration, annotations);
  calculation.take(series);
  return calculation.finish(series.dataEnd).map(resultsIn);
}

/** One aggregate of a series, as {@link computeAggregates}. */
export function computeAggregate(
  series: Series,
  buckets: readonly Bucket[],
  name: AggregateName,
  configuration: AggregateConfiguration,
): AggregateResult[] {
  return computeAggregates(series, buckets, [name], configuration)[0]!;
}
