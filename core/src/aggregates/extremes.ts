/** Least and greatest values: of the raw values, and with simple bounds (the "2" variants). */
import { InfoBits, Status } from '../status/codes.ts';
import type { Bound } from './bounds.ts';
import { countsAsBad } from './configuration.ts';
import type { IntervalView } from './interval.ts';
import { moreExtreme, type Extreme } from './intervalSums.ts';
import { calculated, marked, noData, statusByTime, type Aggregate } from './result.ts';

/** Compares so that "before" means more extreme. */
type Direction = 1 | -1;
const LEAST: Direction = 1;
const GREATEST: Direction = -1;

const goodExtreme = ({ sums }: IntervalView, direction: Direction): Extreme | null =>
  direction === LEAST ? sums.least : sums.greatest;

const uncertainExtreme = ({ sums }: IntervalView, direction: Direction): Extreme | null =>
  direction === LEAST ? sums.leastUncertain : sums.greatestUncertain;

/** Whether an Uncertain sample lies beyond the extreme of the Good ones (D5). */
function isOutdone(view: IntervalView, good: Extreme, direction: Direction): boolean {
  const uncertain = uncertainExtreme(view, direction);
  return uncertain !== null && direction * (uncertain.value - good.value) < 0;
}

/**
 * Extreme of the Good raw values. Uncertain_DataSubNormal where Bad values were left out or an Uncertain one lies
 * beyond it; Raw where it lies on the interval's start, else Calculated; several equal: MultipleValues.
 */
const extreme =
  (direction: Direction, atItsTime: boolean): Aggregate =>
  (view) => {
    const found = goodExtreme(view, direction);
    if (!found) return noData(view);
    const lowered = isOutdone(view, found, direction) || view.sums.bad > 0;
    const raw = atItsTime ? !lowered : found.time === view.begin;
    const bits = (raw ? 0 : InfoBits.calculated) | (found.many ? InfoBits.multipleValues : 0);
    const status = lowered ? Status.UncertainDataSubNormal : Status.Good;
    return marked(view, atItsTime ? found.time : view.begin, found.value, status, bits, found.time);
  };

export const minimum = extreme(LEAST, false);
export const maximum = extreme(GREATEST, false);
export const minimumActualTime = extreme(LEAST, true);
export const maximumActualTime = extreme(GREATEST, true);

/** Greatest minus least of the Good values. Uncertain where a value that is not Good was left out (D5, D8). */
export const range: Aggregate = (view) => {
  const { sums, configuration } = view;
  const { least, greatest } = sums;
  if (!least || !greatest) return noData(view);
  const ignored =
    sums.bad > 0 ||
    isOutdone(view, least, LEAST) ||
    isOutdone(view, greatest, GREATEST) ||
    (!configuration.treatUncertainAsBad && sums.uncertain > 0);
  return calculated(view, greatest.value - least.value, ignored ? Status.UncertainDataSubNormal : Status.Good);
};

interface BoundedExtreme extends Extreme {
  readonly from: 'start bound' | 'raw' | 'end bound';
  readonly sampleTime: number | undefined;
}

/** Extreme of the usable raw values and the simple start bound; for sloped data of the end bound too. */
function boundedExtreme(view: IntervalView, direction: Direction): BoundedExtreme | null {
  const { sums, configuration, earlier, low, high, simpleAtEarlier, simpleAtHigh } = view;
  const uncertain = configuration.treatUncertainAsBad ? null : uncertainExtreme(view, direction);
  const raw = moreExtreme(goodExtreme(view, direction), uncertain, direction);
  let best: BoundedExtreme | null = raw && { ...raw, from: 'raw', sampleTime: raw.time };
  const consider = (time: number, bound: Bound, from: BoundedExtreme['from'], winsTies: boolean): void => {
    const { value, status, sampleTime } = bound;
    if (countsAsBad(status, configuration)) return;
    const order = best === null ? -1 : direction * (value - best.value);
    if (order < 0 || (order === 0 && winsTies)) best = { time, value, from, many: false, sampleTime };
  };
  if (low === earlier && sums.first.time !== low) consider(low, simpleAtEarlier, 'start bound', true);
  if (!configuration.stepped && sums.last.time !== high) consider(high, simpleAtHigh, 'end bound', false);
  return best;
}

/** As the plain extremes, with simple bounds and a time-based status; an interpolated bound carries Interpolated. */
const extreme2 =
  (direction: Direction, atItsTime: boolean): Aggregate =>
  (view) => {
    const best = boundedExtreme(view, direction);
    if (!best) return noData(view);
    const status = statusByTime(view, !view.configuration.stepped);
    const bound = best.from === 'start bound' || (atItsTime && best.from === 'end bound');
    const raw = best.from === 'raw' && (atItsTime || best.time === view.begin);
    const source = bound ? InfoBits.interpolated : raw ? 0 : InfoBits.calculated;
    const time = atItsTime ? best.time : view.begin;
    const bits = source | (best.many ? InfoBits.multipleValues : 0);
    return marked(view, time, best.value, status, bits, best.sampleTime);
  };

export const minimum2 = extreme2(LEAST, false);
export const maximum2 = extreme2(GREATEST, false);
export const minimumActualTime2 = extreme2(LEAST, true);
export const maximumActualTime2 = extreme2(GREATEST, true);

export const range2: Aggregate = (view) => {
  const least = boundedExtreme(view, LEAST);
  const greatest = boundedExtreme(view, GREATEST);
  if (!least || !greatest) return noData(view);
  return calculated(view, greatest.value - least.value, statusByTime(view, !view.configuration.stepped));
};
