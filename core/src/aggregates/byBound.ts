/** Aggregates that are the bounds themselves. */
import { Status, isBad, isGood } from '../status/codes.ts';
import { interpolatedBound, simpleBound } from './bounds.ts';
import { calculated, noData, type Aggregate } from './result.ts';

/** The interpolated bound at the interval's start. Never Calculated or Partial; after the data it is extrapolated. */
export const interpolative: Aggregate = ({ series, begin, configuration }) => ({
  time: begin,
  ...interpolatedBound(series, begin, configuration),
});

export const startBound: Aggregate = ({ series, begin, configuration }) => ({
  time: begin,
  ...simpleBound(series, begin, configuration),
});

/** The simple bound at the interval's end, stamped with it (D7). */
export const endBound: Aggregate = ({ series, finish, configuration }) => ({
  time: finish,
  ...simpleBound(series, finish, configuration),
});

/** EndBound minus StartBound in the direction of the request. */
export const deltaBounds: Aggregate = (view) => {
  const { series, begin, finish, configuration } = view;
  const from = simpleBound(series, begin, configuration);
  const to = simpleBound(series, finish, configuration);
  if (isBad(from.status) || isBad(to.status)) return noData(view);
  const good = isGood(from.status) && isGood(to.status);
  return calculated(view, to.value - from.value, good ? Status.Good : Status.UncertainDataSubNormal);
};
