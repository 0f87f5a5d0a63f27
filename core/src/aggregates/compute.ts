/** Every aggregate by its OPC 10000-13 name, and how a request is answered. */
import type { Bucket } from '../time/buckets.ts';
import * as byBound from './byBound.ts';
import * as byDuration from './byDuration.ts';
import * as byTime from './byTime.ts';
import * as byValue from './byValue.ts';
import type { AggregateConfiguration } from './configuration.ts';
import * as extremes from './extremes.ts';
import { viewInterval } from './interval.ts';
import { noData, type Aggregate, type AggregateResult } from './result.ts';
import type { Series } from './series.ts';

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
const OUTSIDE_DATA: ReadonlySet<AggregateName> = new Set(['Interpolative', 'StartBound', 'EndBound', 'DeltaBounds']);

/** Aggregates that make sense for text, whose values are positions in a list. */
export const TEXT_AGGREGATES: ReadonlySet<AggregateName> = new Set([
  'Interpolative',
  'Count',
  'Start',
  'End',
  'NumberOfTransitions',
  'DurationGood',
  'DurationBad',
  'PercentGood',
  'PercentBad',
]);

/**
 * One result per bucket. The series has to reach beyond the buckets on both sides: to the nearest usable sample,
 * and at least to the nearest sample. Buckets before the start or after the end of the data give Bad_NoData.
 */
export function computeAggregate(
  series: Series,
  buckets: readonly Bucket[],
  name: AggregateName,
  configuration: AggregateConfiguration,
): AggregateResult[] {
  const aggregate = AGGREGATES[name];
  return buckets.map((bucket) => {
    const view = viewInterval(series, bucket, configuration);
    return view.empty && !OUTSIDE_DATA.has(name) ? noData(view) : aggregate(view);
  });
}
