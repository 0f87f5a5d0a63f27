/** Aggregates over the raw values inside the interval, without bounds. */
import { Status, isGood } from '../status/codes.ts';
import { exactProduct } from './exact.ts';
import type { IntervalSums } from './intervalSums.ts';
import { calculated, noData, statusByCount, type Aggregate, type AggregateResult } from './result.ts';
import type { IntervalView } from './interval.ts';

/** Mean of the Good raw values, each weighing the same; none: Bad_NoData. */
export const average: Aggregate = (view) => {
  const { good, sum } = view.sums;
  return good === 0 ? noData(view) : calculated(view, sum.total / good, statusByCount(view));
};

/** Number of Good raw values; 0 with status Good in an interval without any inside the data (D10). */
export const count: Aggregate = (view) => calculated(view, view.sums.good, statusByCount(view));

/**
 * Sum of squared distances from the mean: Σv² − (Σv)²/n, with both sums in about 32 digits, so that a large offset
 * costs none of the 16 that are answered.
 */
function squaredDistances({ good, sum, squares, least, greatest }: IntervalSums): number {
  if (least!.value === greatest!.value) return 0;
  const [main, rest] = [sum.total, sum.rest - (sum.total - sum.main)];
  const [square, lost] = exactProduct(main, main);
  const quotient = square / good;
  const [back, backLost] = exactProduct(quotient, good);
  const quotientRest = (square - back - backLost + lost + 2 * main * rest) / good;
  const [above, aboveRest] = [squares.total, squares.rest - (squares.total - squares.main)];
  const difference = above - quotient;
  const carried = difference - above;
  const differenceRest = above - (difference - carried) - (quotient + carried);
  const distances = difference + (differenceRest + aboveRest - quotientRest);
  return Number.isNaN(distances) ? Infinity : Math.max(0, distances);
}

/** Uncertain_DataSubNormal where a value that is not Good was left out (D8). */
const spread =
  (toResult: (distances: number, count: number) => number): Aggregate =>
  (view) => {
    const { sums } = view;
    if (sums.good === 0) return noData(view);
    const status = sums.good < sums.members ? Status.UncertainDataSubNormal : Status.Good;
    return calculated(view, toResult(squaredDistances(sums), sums.good), status);
  };

const sample = (distances: number, count: number): number => (count === 1 ? 0 : distances / (count - 1));
const population = (distances: number, count: number): number => distances / count;

/** Variance of the Good values over n − 1, in the square of the tag's unit; 0 for one value. */
export const varianceSample = spread(sample);
/** Variance of the Good values over n, in the square of the tag's unit. */
export const variancePopulation = spread(population);
/** Square root of the variance over n − 1, in the tag's unit; 0 for one value. */
export const standardDeviationSample = spread((distances, count) => Math.sqrt(sample(distances, count)));
/** Square root of the variance over n, in the tag's unit. */
export const standardDeviationPopulation = spread((distances, count) => Math.sqrt(population(distances, count)));

/**
 * Changes between successive usable values; the first is compared with the usable value before the interval,
 * and counts as a change where there is none.
 */
export const numberOfTransitions: Aggregate = (view) => calculated(view, view.sums.transitions, statusByCount(view));

/** The first raw value in the direction of the request, whatever its quality, at its own time (D6). */
export const start: Aggregate = (view) => rawValue(view, view.begin < view.finish);

/** The last raw value in the direction of the request, whatever its quality, at its own time (D6). */
export const end: Aggregate = (view) => rawValue(view, view.begin > view.finish);

function rawValue(view: IntervalView, first: boolean): AggregateResult {
  const { sums } = view;
  if (sums.members === 0) return noData(view);
  const { time, value, status } = first ? sums.first : sums.last;
  return { time, value, status, sampleTime: time };
}

/**
 * Latest Good value minus the earliest; the sign follows time, also in reverse. Uncertain_DataSubNormal where a
 * value that is not Good had to be passed over to find either.
 */
export const delta: Aggregate = (view) => {
  const { good, first, last, firstGood, lastGood } = view.sums;
  if (good === 0) return noData(view);
  const passedOver = !isGood(first.status) || !isGood(last.status);
  return calculated(view, lastGood - firstGood, passedOver ? Status.UncertainDataSubNormal : Status.Good);
};

/** Number of annotations whose annotated time is in the interval, by whomever; 0 where there is none, always Good. */
export const annotationCount: Aggregate = (view) => calculated(view, view.annotations, Status.Good);
