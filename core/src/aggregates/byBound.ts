/** Aggregates that are the bounds themselves. */
import { Status, isGood } from '../status/codes.ts';
import { isUsableBound, type Bound } from './bounds.ts';
import type { IntervalView } from './interval.ts';
import { calculated, noData, type Aggregate, type AggregateResult } from './result.ts';

const simpleAt = (view: IntervalView, time: number): Bound =>
  time === view.earlier ? view.simpleAtEarlier : view.simpleAtLater;

const asResult = (time: number, { derived: _derived, ...bound }: Bound): AggregateResult => ({ ...bound, time });

/** The interpolated bound at the interval's start. Never Calculated or Partial; after the data it is extrapolated. */
export const interpolative: Aggregate = (view) => asResult(view.begin, view.interpolatedAtBegin);

/** The simple bound at the interval's start, stamped with it (D7). Bad_NoData where nothing stands there. */
export const startBound: Aggregate = (view) => asResult(view.begin, simpleAt(view, view.begin));

/** The simple bound at the interval's end, stamped with it (D7). */
export const endBound: Aggregate = (view) => asResult(view.finish, simpleAt(view, view.finish));

/** EndBound minus StartBound in the direction of the request; Bad_NoData where either cannot be used (D16). */
export const deltaBounds: Aggregate = (view) => {
  const from = simpleAt(view, view.begin);
  const to = simpleAt(view, view.finish);
  if (!isUsableBound(from, view.configuration) || !isUsableBound(to, view.configuration)) return noData(view);
  const good = isGood(from.status) && isGood(to.status);
  return calculated(view, to.value - from.value, good ? Status.Good : Status.UncertainDataSubNormal);
};
