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
import type { RunParts } from './run.ts';
import { firstAtOrAfter, type Series } from './series.ts';

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
  const inOrder = reverse ? [...buckets].reverse() : buckets;
  const times = Float64Array.from({ length: buckets.length + 1 }, (_, i) => {
    const bucket = inOrder[Math.min(i, buckets.length - 1)]!;
    return i < buckets.length ? Math.min(bucket.begin, bucket.finish) : Math.max(bucket.begin, bucket.finish);
  });
  return { times, reverse };
}

/** How many of some times (ascending) each of the intervals holds. */
function countIn(times: Float64Array, { times: edges, reverse }: Edges): number[] {
  const at = Array.from(edges, (edge) => firstAtOrAfter(times, edge + (reverse ? 1 : 0)));
  return at.slice(1).map((end, i) => end - at[i]!);
}

/**
 * One result per bucket for each aggregate, in the order of the buckets. Buckets before the start or after the end of
 * the data give Bad_NoData.
 * @param annotations annotated times in ascending order.
 */
export function resultsOf(
  passed: PassedIntervals,
  buckets: readonly Bucket[],
  names: readonly AggregateName[],
  configuration: AggregateConfiguration,
  annotations: Float64Array = new Float64Array(0),
): AggregateResult[][] {
  const edges = edgesOf(buckets);
  const annotated = countIn(annotations, edges);
  const views = buckets.map((bucket, i) => {
    const index = edges.reverse ? buckets.length - 1 - i : i;
    return viewInterval(passed, index, bucket, configuration, annotated[index]!);
  });
  return names.map((name) => {
    const aggregate = AGGREGATES[name];
    const outside = OUTSIDE_DATA.has(name);
    return views.map((view) => (view.empty && !outside ? noData(view) : aggregate(view)));
  });
}

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
  const { times, reverse } = edgesOf(buckets);
  const pass = new AggregatePass(times, reverse, configuration, partsFor(names, configuration.stepped));
  pass.take(series);
  return resultsOf(pass.finish(series.dataEnd), buckets, names, configuration, annotations);
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
