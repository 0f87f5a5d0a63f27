/** What an aggregate gives for one interval, and how its status follows from the data behind it. */
import { InfoBits, Status, isBad, isGood, isUncertain, withInfoBits } from '../status/codes.ts';
import type { AggregateConfiguration } from './configuration.ts';
import { measureRegions, type IntervalView } from './interval.ts';

/** `value` is NaN where there is none. `time`: start of the interval unless the aggregate says otherwise. */
export interface AggregateResult {
  readonly time: number;
  readonly value: number;
  readonly status: number;
}

export type Aggregate = (view: IntervalView) => AggregateResult;

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
export function marked(view: IntervalView, time: number, value: number, status: number, bits: number): AggregateResult {
  if (isBad(status)) return { time, value: NaN, status };
  return { time, value, status: withInfoBits(status, bits | (view.partial ? InfoBits.partial : 0)) };
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
export function statusByCount({ series, configuration, first, end }: IntervalView): number {
  let good = 0;
  let uncertain = 0;
  for (let i = first; i < end; i++) {
    if (isGood(series.status[i]!)) good++;
    else if (isUncertain(series.status[i]!)) uncertain++;
  }
  const bad = end - first - good - (configuration.treatUncertainAsBad ? 0 : uncertain);
  return statusByShare(good, bad, end - first, configuration);
}

/** Status of a time-based aggregate: by the duration of Good and Bad regions over [from, to]. */
export function statusByTime(view: IntervalView, sloped: boolean, from = view.low, to = view.high): number {
  const { good, bad } = measureRegions(view, from, to, sloped);
  return statusByShare(good, bad, to - from, view.configuration);
}
