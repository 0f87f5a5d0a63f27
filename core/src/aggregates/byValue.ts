/** Aggregates over the raw values inside the interval, without bounds. */
import { Status, isBad, isGood } from '../status/codes.ts';
import type { IntervalView } from './interval.ts';
import { calculated, noData, statusByCount, type Aggregate } from './result.ts';
import { countsAsBad } from './series.ts';

interface GoodValues {
  count: number;
  mean: number;
  /** Sum of squared distances from the mean (Welford), so that large offsets lose no digits. */
  squares: number;
  sum: number;
}

function collectGood({ series, first, end }: IntervalView): GoodValues {
  const { values, status } = series;
  const good: GoodValues = { count: 0, mean: 0, squares: 0, sum: 0 };
  for (let i = first; i < end; i++) {
    if (!isGood(status[i]!)) continue;
    const value = values[i]!;
    good.count++;
    good.sum += value;
    const distance = value - good.mean;
    good.mean += distance / good.count;
    good.squares += distance * (value - good.mean);
  }
  return good;
}

/** Whether a value that is not Good was left out: lowers the status of Range, StandardDeviation and Variance (D8). */
const statusIfIgnored = (view: IntervalView, used: number): number =>
  used < view.end - view.first ? Status.UncertainDataSubNormal : Status.Good;

/** Mean of the Good raw values, each weighing the same; none: Bad_NoData. */
export const average: Aggregate = (view) => {
  const good = collectGood(view);
  return good.count === 0 ? noData(view) : calculated(view, good.sum / good.count, statusByCount(view));
};

/** Number of Good raw values; 0 with status Good in an interval without any inside the data (D10). */
export const count: Aggregate = (view) => calculated(view, collectGood(view).count, statusByCount(view));

const spread =
  (toResult: (good: GoodValues) => number): Aggregate =>
  (view) => {
    const good = collectGood(view);
    return good.count === 0 ? noData(view) : calculated(view, toResult(good), statusIfIgnored(view, good.count));
  };

const sampleVariance = ({ count, squares }: GoodValues): number => (count === 1 ? 0 : squares / (count - 1));
const populationVariance = ({ count, squares }: GoodValues): number => squares / count;

export const varianceSample = spread(sampleVariance);
export const variancePopulation = spread(populationVariance);
export const standardDeviationSample = spread((good) => Math.sqrt(sampleVariance(good)));
export const standardDeviationPopulation = spread((good) => Math.sqrt(populationVariance(good)));

/**
 * Changes between successive usable values; the first is compared with the usable value before the interval,
 * and counts as a change where there is none.
 */
export const numberOfTransitions: Aggregate = (view) => {
  const { series, configuration, first, end } = view;
  const { values, status } = series;
  const usable = (index: number): boolean => !countsAsBad(status[index]!, configuration);
  let before = first - 1;
  while (before >= 0 && !usable(before)) before--;
  let last = before >= 0 ? values[before]! : NaN;
  let transitions = 0;
  for (let i = first; i < end; i++) {
    if (!usable(i)) continue;
    if (values[i] !== last) transitions++;
    last = values[i]!;
  }
  return calculated(view, transitions, statusByCount(view));
};

/** The first raw value in the direction of the request, whatever its quality, at its own time (D6). */
export const start: Aggregate = (view) => rawValue(view, view.begin < view.finish ? view.first : view.end - 1);

/** The last raw value in the direction of the request, whatever its quality, at its own time (D6). */
export const end: Aggregate = (view) => rawValue(view, view.begin < view.finish ? view.end - 1 : view.first);

function rawValue(view: IntervalView, index: number): ReturnType<Aggregate> {
  const { series, first, end } = view;
  if (end === first) return noData(view);
  return { time: series.times[index]!, value: series.values[index]!, status: series.status[index]! };
}

/**
 * Latest Good value minus the earliest; the sign follows time, also in reverse. Uncertain_DataSubNormal where a
 * value that is not Good had to be passed over to find either.
 */
export const delta: Aggregate = (view) => {
  const { series, first, end } = view;
  let from = first;
  let to = end - 1;
  while (from < end && !isGood(series.status[from]!)) from++;
  if (from === end) return noData(view);
  while (!isGood(series.status[to]!)) to--;
  const passed = from > first || to < end - 1;
  return calculated(
    view,
    series.values[to]! - series.values[from]!,
    passed ? Status.UncertainDataSubNormal : Status.Good,
  );
};

/** Whether any raw value in the interval is Bad. */
export function hasBad({ series, first, end }: IntervalView): boolean {
  for (let i = first; i < end; i++) if (isBad(series.status[i]!)) return true;
  return false;
}
