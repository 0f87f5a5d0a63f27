/** Aggregates that weigh values by how long they lasted. */
import { SECOND } from '../time/instants.ts';
import { isBad } from '../status/codes.ts';
import { interpolatedBound, simpleBound, type Bound } from './bounds.ts';
import type { IntervalView } from './interval.ts';
import { calculated, noData, statusByTime, type Aggregate } from './result.ts';
import { countsAsBad } from './series.ts';

interface Area {
  /** Value × microseconds. */
  readonly area: number;
  /** Microseconds that the area stands on. */
  readonly length: number;
  readonly from: number;
  /** The value at the start, for an interval of no length. */
  readonly startValue: number;
}

/**
 * Area under straight lines from the interpolated start bound through the usable values to the interpolated end
 * bound, over the effective duration; always sloped. Without a start bound it starts at the first usable value.
 */
function areaBetweenBounds(view: IntervalView): Area | null {
  const { series, low, high } = view;
  const configuration = { ...view.configuration, stepped: false };
  const { times, values, status } = series;
  const startBound = interpolatedBound(series, low, configuration);
  let time = low;
  let value = startBound.value;
  let i = view.first;
  if (isBad(startBound.status)) {
    while (i < view.end && countsAsBad(status[i]!, configuration)) i++;
    if (i === view.end) return null;
    time = times[i]!;
    value = values[i]!;
  }
  const from = time;
  const startValue = value;
  let area = 0;
  for (; i < view.end && times[i]! <= high; i++) {
    if (times[i]! <= time || countsAsBad(status[i]!, configuration)) continue;
    area += ((value + values[i]!) / 2) * (times[i]! - time);
    time = times[i]!;
    value = values[i]!;
  }
  if (time < high) area += ((value + interpolatedBound(series, high, configuration).value) / 2) * (high - time);
  return { area, length: high - from, from, startValue };
}

/**
 * Area over the usable time, with simple bounds: time that starts at an unusable value is left out of area and
 * length; a sub-interval of sloped data that ends at an unusable value is held flat at its start.
 */
function areaOfUsableTime(view: IntervalView): Area | null {
  const { series, configuration, low, high } = view;
  const { times, values, status } = series;
  const startBound: Bound = simpleBound(series, low, configuration);
  let area = 0;
  let length = 0;
  let time = low;
  let value = startBound.value;
  let usable = !countsAsBad(startBound.status, configuration);
  let seen = usable;
  const startValue = startBound.value;
  const close = (until: number, next: number): void => {
    if (!usable) return;
    area += (configuration.stepped ? value : (value + next) / 2) * (until - time);
    length += until - time;
  };
  for (let i = view.first; i < view.end && times[i]! <= high; i++) {
    if (times[i]! === low) continue;
    const nextUsable = !countsAsBad(status[i]!, configuration);
    close(times[i]!, nextUsable ? values[i]! : value);
    time = times[i]!;
    value = values[i]!;
    usable = nextUsable;
    seen ||= usable;
  }
  if (time < high) {
    const endBound = simpleBound(series, high, configuration);
    close(high, countsAsBad(endBound.status, configuration) ? value : endBound.value);
  }
  return seen ? { area, length, from: low, startValue } : null;
}

const timeWeighted =
  (measure: (view: IntervalView) => Area | null, toValue: (area: Area) => number, ownSlope: boolean): Aggregate =>
  (view) => {
    const area = measure(view);
    if (area === null) return noData(view);
    const sloped = ownSlope || !view.configuration.stepped;
    return calculated(view, toValue(area), statusByTime(view, sloped, area.from, view.high));
  };

const meanOf = ({ area, length, startValue }: Area): number => (length > 0 ? area / length : startValue);
/** Unit × seconds. */
const totalOf = ({ area }: Area): number => area / SECOND;

export const timeAverage = timeWeighted(areaBetweenBounds, meanOf, true);
export const total = timeWeighted(areaBetweenBounds, totalOf, true);
export const timeAverage2 = timeWeighted(areaOfUsableTime, meanOf, false);
export const total2 = timeWeighted(areaOfUsableTime, totalOf, false);
