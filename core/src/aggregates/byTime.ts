/** Aggregates that weigh values by how long they lasted. */
import { SECOND } from '../time/instants.ts';
import { InfoBits, isBad } from '../status/codes.ts';
import { isUsableBound } from './bounds.ts';
import type { IntervalView } from './interval.ts';
import { calculated, noData, statusByTime, type Aggregate } from './result.ts';

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
function areaBetweenBounds({ sums, low, high, earlier, interpolatedAtEarlier }: IntervalView): Area | null {
  if (!Number.isNaN(sums.areaFrom)) {
    const { area, areaFrom: from, areaStartValue: startValue } = sums;
    return { area: area.total, length: high - from, from, startValue };
  }
  // The data end where the interval begins: only the bound itself is there.
  if (low !== earlier || isBad(interpolatedAtEarlier.status)) return null;
  return { area: 0, length: high - low, from: low, startValue: interpolatedAtEarlier.value };
}

/**
 * Area over the usable time, with simple bounds: time that starts at an unusable value is left out of area and
 * length; a sub-interval of sloped data that ends at an unusable value is held flat at its start, also from where an
 * interval begins in the middle of it (D16): the parts of an interval add up to the whole (D20).
 */
function areaOfUsableTime({ sums, configuration, low, earlier, simpleAtEarlier }: IntervalView): Area | null {
  const bounded = low === earlier && isUsableBound(simpleAtEarlier, configuration);
  const usable = sums.good + (configuration.treatUncertainAsBad ? 0 : sums.uncertain);
  if (!bounded && usable === 0) return null;
  const startValue = low === earlier ? simpleAtEarlier.value : sums.first.value;
  return { area: sums.usableArea.total, length: sums.usableLength, from: low, startValue };
}

const timeWeighted =
  (measure: (view: IntervalView) => Area | null, toValue: (area: Area) => number, alwaysSloped: boolean): Aggregate =>
  (view) => {
    const area = measure(view);
    // Where there is time in it but none that is usable, one usable instant makes no average.
    if (area === null || (area.length === 0 && view.low < view.high)) return noData(view);
    const sloped = alwaysSloped || !view.configuration.stepped;
    // Without a usable value before it, an average starts where the first one lies.
    const bits = area.from > view.earlier ? InfoBits.partial : 0;
    return calculated(view, toValue(area), statusByTime(view, sloped, area.from), bits);
  };

const meanOf = ({ area, length, startValue }: Area): number => (length > 0 ? area / length : startValue);
/** Unit × seconds. */
const totalOf = ({ area }: Area): number => area / SECOND;

/** Area between interpolated bounds over the interval's length, in the tag's unit. */
export const timeAverage = timeWeighted(areaBetweenBounds, meanOf, true);
/** Area between interpolated bounds, in the tag's unit times seconds. */
export const total = timeWeighted(areaBetweenBounds, totalOf, true);
/** Area of the usable time between simple bounds over its length, in the tag's unit. */
export const timeAverage2 = timeWeighted(areaOfUsableTime, meanOf, false);
/** Area of the usable time between simple bounds, in the tag's unit times seconds. */
export const total2 = timeWeighted(areaOfUsableTime, totalOf, false);
