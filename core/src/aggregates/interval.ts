/** One interval of a request after the samples have passed. */
import type { Bucket } from '../time/buckets.ts';
import type { Bound } from './bounds.ts';
import type { AggregateConfiguration } from './configuration.ts';
import type { IntervalSums } from './intervalSums.ts';
import type { PassedIntervals } from './pass.ts';

/**
 * The interval [begin, finish) in the direction of the request, its sums and bounds, and the part [low, high] of it
 * between the start and the end of the data: its effective duration (D1).
 */
export interface IntervalView {
  readonly configuration: AggregateConfiguration;
  readonly sums: IntervalSums;
  readonly begin: number;
  readonly finish: number;
  readonly earlier: number;
  readonly later: number;
  readonly low: number;
  readonly high: number;
  readonly dataStart: number;
  /** Truncated by the request's end, or reaching beyond the start or the end of the data. */
  readonly partial: boolean;
  /** No part of it lies within the data. */
  readonly empty: boolean;
  /** Annotations whose annotated time lies in it. */
  readonly annotations: number;
  /** Interpolated bounds at begin and at the earlier edge, simple ones at both edges and at the end of the data. */
  readonly interpolatedAtBegin: Bound;
  readonly interpolatedAtEarlier: Bound;
  readonly simpleAtEarlier: Bound;
  readonly simpleAtLater: Bound;
  readonly simpleAtHigh: Bound;
}

/** Lays a bucket over what has passed. `index`: its place among the intervals in ascending time. */
export function viewInterval(
  passed: PassedIntervals,
  index: number,
  { begin, finish, truncated }: Bucket,
  configuration: AggregateConfiguration,
  annotations: number,
): IntervalView {
  const { dataStart, dataEnd, bounds, endBounds } = passed;
  const sums = passed.sumsAt(index);
  const forward = begin < finish;
  const [earlier, later] = forward ? [begin, finish] : [finish, begin];
  const low = Math.max(earlier, dataStart);
  const high = Math.min(later, dataEnd);
  return {
    configuration,
    sums,
    begin,
    finish,
    earlier,
    later,
    low,
    high,
    dataStart,
    partial: truncated || earlier < dataStart || later > dataEnd,
    empty: sums.members === 0 && !(low < high),
    annotations,
    interpolatedAtBegin: bounds.interpolated[forward ? index : index + 1]!,
    interpolatedAtEarlier: bounds.interpolated[index]!,
    simpleAtEarlier: bounds.simple[index]!,
    simpleAtLater: bounds.simple[index + 1]!,
    simpleAtHigh: later <= dataEnd ? bounds.simple[index + 1]! : endBounds!.simple[0]!,
  };
}
