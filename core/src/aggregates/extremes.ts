/** Least and greatest values: of the raw values, and with simple bounds (the "2" variants). */
import { InfoBits, Status, isGood, isUncertain } from '../status/codes.ts';
import { isUsableBound, type Bound } from './bounds.ts';
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

/** Least Good raw value, stamped with the interval's start. */
export const minimum = extreme(LEAST, false);
/** Greatest Good raw value, stamped with the interval's start. */
export const maximum = extreme(GREATEST, false);
/** Least Good raw value at the time where it first stood. */
export const minimumActualTime = extreme(LEAST, true);
/** Greatest Good raw value at the time where it first stood. */
export const maximumActualTime = extreme(GREATEST, true);

/** Greatest minus least of the Good values. Uncertain where a value that is not Good was left out (D8, D18). */
export const range: Aggregate = (view) => {
  const { least, greatest, good, members } = view.sums;
  if (!least || !greatest) return noData(view);
  const status = good < members ? Status.UncertainDataSubNormal : Status.Good;
  return calculated(view, greatest.value - least.value, status);
};

interface BoundedExtreme extends Extreme {
  readonly from: 'start bound' | 'raw' | 'end bound';
  /** Whether it is an Uncertain value, or a bound that is Uncertain. */
  readonly uncertain: boolean;
  /** Whether it is a raw value as it was recorded, wherever it was found. */
  readonly recorded: boolean;
  readonly sampleTime: number | undefined;
}

/** Extreme of the usable raw values and the simple start bound; for sloped data of the end bound too. */
function boundedExtreme(view: IntervalView, direction: Direction): BoundedExtreme | null {
  const { sums, configuration, earlier, low, high, simpleAtEarlier, simpleAtHigh } = view;
  const good = goodExtreme(view, direction);
  const usable = configuration.treatUncertainAsBad ? null : uncertainExtreme(view, direction);
  const raw = moreExtreme(good, usable, direction);
  const uncertain = raw !== null && (good === null || direction * (raw.value - good.value) < 0);
  let best: BoundedExtreme | null = raw && { ...raw, from: 'raw', uncertain, recorded: true, sampleTime: raw.time };
  const consider = (time: number, bound: Bound, from: BoundedExtreme['from'], winsTies: boolean): void => {
    const { value, status, sampleTime, derived } = bound;
    if (!isUsableBound(bound, configuration)) return;
    const order = best === null ? -1 : direction * (value - best.value);
    if (order > 0 || (order === 0 && !winsTies)) return;
    const uncertain = isUncertain(status);
    best = { time, value, from, many: false, uncertain, recorded: !derived, sampleTime };
  };
  if (low === earlier && sums.first.time !== low) consider(low, simpleAtEarlier, 'start bound', true);
  if (!configuration.stepped && sums.last.time !== high) consider(high, simpleAtHigh, 'end bound', false);
  return best;
}

/** By time, but never better than the extremes themselves are (D17). */
function boundedStatus(view: IntervalView, ...extremes: readonly BoundedExtreme[]): number {
  const status = statusByTime(view, !view.configuration.stepped);
  return isGood(status) && extremes.some(({ uncertain }) => uncertain) ? Status.UncertainDataSubNormal : status;
}

/**
 * As the plain extremes, with simple bounds and a time-based status. A bound that was derived carries Interpolated, a raw
 * value at the start of the interval's time (in reverse its far edge) is Raw.
 */
const extreme2 =
  (direction: Direction, atItsTime: boolean): Aggregate =>
  (view) => {
    const best = boundedExtreme(view, direction);
    if (!best) return noData(view);
    const atStart = best.from === 'start bound';
    const bound = (atStart && !best.recorded) || (atItsTime && best.from === 'end bound');
    const raw = (atStart && best.recorded) || (best.from === 'raw' && (atItsTime || best.time === view.begin));
    const source = bound ? InfoBits.interpolated : raw ? 0 : InfoBits.calculated;
    const time = atItsTime ? best.time : view.begin;
    const bits = source | (best.many ? InfoBits.multipleValues : 0);
    return marked(view, time, best.value, boundedStatus(view, best), bits, best.sampleTime);
  };

/** Least usable value, simple bounds included, stamped with the interval's start. */
export const minimum2 = extreme2(LEAST, false);
/** Greatest usable value, simple bounds included, stamped with the interval's start. */
export const maximum2 = extreme2(GREATEST, false);
/** Least usable value, simple bounds included, at the time where it first stood. */
export const minimumActualTime2 = extreme2(LEAST, true);
/** Greatest usable value, simple bounds included, at the time where it first stood. */
export const maximumActualTime2 = extreme2(GREATEST, true);

/** Greatest minus least of the usable values, simple bounds included; in the tag's unit. */
export const range2: Aggregate = (view) => {
  const least = boundedExtreme(view, LEAST);
  const greatest = boundedExtreme(view, GREATEST);
  if (!least || !greatest) return noData(view);
  return calculated(view, greatest.value - least.value, boundedStatus(view, least, greatest));
};
