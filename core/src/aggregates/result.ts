/** What an aggregate gives for one interval, and how its status follows from the data behind it. */
import { InfoBits, Status, isBad, isGood, withInfoBits } from '../status/codes.ts';
import type { AggregateConfiguration } from './configuration.ts';
import { countsAsBad } from './configuration.ts';
import type { IntervalView } from './interval.ts';

/** `value` is NaN where there is none. `time`: start of the interval unless the aggregate says otherwise. */
export interface AggregateResult {
  readonly time: number;
  readonly value: number;
  readonly status: number;
  /** Time of the sample whose value it is, raw or held; absent where it was computed. */
  readonly sampleTime?: number;
}

export type Aggregate = (view: IntervalView) => AggregateResult;

/** The result of an interval without data: no value, Bad_NoData. @param time microseconds; its stamp. */
export const noData = (view: IntervalView, time = view.begin): AggregateResult => ({
  time,
  value: NaN,
  status: Status.BadNoData,
});

/** A result of arithmetic: Calculated, and Partial where the interval is. A Bad status takes the value away. */
export function calculated(view: IntervalView, value: number, status: number, bits = 0): AggregateResult {
  return marked(view, view.begin, value, status, InfoBits.calculated | bits);
}

/** A result with the given source bits, Partial where the interval is. */
export function marked(
  view: IntervalView,
  time: number,
  value: number,
  status: number,
  bits: number,
  sampleTime?: number,
): AggregateResult {
  // What is suppressed has no time of its own (D19).
  if (isBad(status)) return { time: view.begin, value: NaN, status };
  const marks = withInfoBits(status, bits | (view.partial ? InfoBits.partial : 0));
  return sampleTime === undefined ? { time, value, status: marks } : { time, value, status: marks, sampleTime };
}

/**
 * Good, Uncertain_DataSubNormal or Bad by the shares of Good and Bad data (OPC 10000-13, 5.3). Bad is only tested
 * where there is Bad data (D4); where PercentDataGood = 100 − PercentDataBad the Good share decides first.
 */
export function statusByShare(good: number, bad: number, whole: number, configuration: AggregateConfiguration): number {
  const { percentDataBad, percentDataGood } = configuration;
  const enoughGood = good * 100 >= percentDataGood * whole;
  const tooMuchBad = bad > 0 && bad * 100 >= percentDataBad * whole;
  if (enoughGood && (!tooMuchBad || percentDataGood === 100 - percentDataBad)) return Status.Good;
  return tooMuchBad ? Status.Bad : Status.UncertainDataSubNormal;
}

/** Status of a value-based aggregate: by the number of Good and Bad raw values in the interval. None at all: Good (D10). */
export function statusByCount({ sums, configuration }: IntervalView): number {
  const bad = sums.bad + (configuration.treatUncertainAsBad ? sums.uncertain : 0);
  return statusByShare(sums.good, bad, sums.members, configuration);
}

/**
 * Status of a time-based aggregate: by the duration of Good and Bad regions from a time to the end of the interval's
 * data. With `sloped`, a Good region that ends at a Bad sample is Uncertain (D3). No length at all: by the one sample.
 * @param from the effective start, or a later time before which everything is Bad.
 */
export function statusByTime(view: IntervalView, sloped: boolean, from = view.low): number {
  const { sums, configuration, low, high } = view;
  const whole = high - from;
  if (whole === 0) {
    const { status } = sums.last;
    return statusByShare(isGood(status) ? 1 : 0, countsAsBad(status, configuration) ? 1 : 0, 1, configuration);
  }
  const good = sums.goodTime + (sloped ? 0 : sums.goodThenBadTime);
  return statusByShare(good, sums.badTime - (from - low), whole, configuration);
}
