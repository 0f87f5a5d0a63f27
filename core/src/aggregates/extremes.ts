/** Least and greatest values: of the raw values, and with simple bounds (the "2" variants). */
import { InfoBits, Status, isBad, isGood } from '../status/codes.ts';
import { simpleBound } from './bounds.ts';
import { hasBad } from './byValue.ts';
import type { IntervalView } from './interval.ts';
import { calculated, marked, noData, statusByTime, type Aggregate } from './result.ts';
import { countsAsBad } from './series.ts';

/** Compares so that "before" means more extreme. */
type Direction = 1 | -1;
const LEAST: Direction = 1;
const GREATEST: Direction = -1;

interface Extreme {
  readonly index: number;
  readonly value: number;
  /** Several samples share it. */
  readonly multiple: boolean;
  /** An Uncertain sample lies beyond it (D5). */
  readonly outdone: boolean;
}

function goodExtreme({ series, first, end }: IntervalView, direction: Direction): Extreme | null {
  const { values, status } = series;
  let index = -1;
  let multiple = false;
  for (let i = first; i < end; i++) {
    if (!isGood(status[i]!)) continue;
    const order = index < 0 ? -1 : direction * (values[i]! - values[index]!);
    if (order < 0) [index, multiple] = [i, false];
    else if (order === 0) multiple = true;
  }
  if (index < 0) return null;
  let outdone = false;
  for (let i = first; i < end && !outdone; i++) {
    outdone = !isGood(status[i]!) && !isBad(status[i]!) && direction * (values[i]! - values[index]!) < 0;
  }
  return { index, value: values[index]!, multiple, outdone };
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
    const time = view.series.times[found.index]!;
    const lowered = found.outdone || hasBad(view);
    const raw = atItsTime ? !lowered : time === view.begin;
    const bits = (raw ? 0 : InfoBits.calculated) | (found.multiple ? InfoBits.multipleValues : 0);
    const status = lowered ? Status.UncertainDataSubNormal : Status.Good;
    return marked(view, atItsTime ? time : view.begin, found.value, status, bits);
  };

export const minimum = extreme(LEAST, false);
export const maximum = extreme(GREATEST, false);
export const minimumActualTime = extreme(LEAST, true);
export const maximumActualTime = extreme(GREATEST, true);

/** Greatest minus least of the Good values. Uncertain where a value that is not Good was left out (D5, D8). */
export const range: Aggregate = (view) => {
  const least = goodExtreme(view, LEAST);
  const greatest = goodExtreme(view, GREATEST);
  if (!least || !greatest) return noData(view);
  const { series, configuration, first, end } = view;
  let ignored = hasBad(view) || least.outdone || greatest.outdone;
  for (let i = first; i < end && !ignored; i++) {
    ignored = !configuration.treatUncertainAsBad && !isGood(series.status[i]!);
  }
  return calculated(view, greatest.value - least.value, ignored ? Status.UncertainDataSubNormal : Status.Good);
};

interface BoundedExtreme {
  readonly time: number;
  readonly value: number;
  readonly from: 'start bound' | 'raw' | 'end bound';
  readonly multiple: boolean;
}

/** Extreme of the usable raw values and the simple start bound; for sloped data of the end bound too. */
function boundedExtreme(view: IntervalView, direction: Direction): BoundedExtreme | null {
  const { series, configuration, first, end, low, high } = view;
  let best: BoundedExtreme | null = null;
  const consider = (time: number, value: number, from: BoundedExtreme['from']): void => {
    const order = best === null ? -1 : direction * (value - best.value);
    if (order < 0) best = { time, value, from, multiple: false };
    else if (order === 0 && from === 'raw' && best!.from === 'raw') best = { ...best!, multiple: true };
  };
  const startBound = simpleBound(series, low, configuration);
  if (!countsAsBad(startBound.status, configuration) && series.times[first] !== low) {
    consider(low, startBound.value, 'start bound');
  }
  for (let i = first; i < end; i++) {
    if (!countsAsBad(series.status[i]!, configuration)) consider(series.times[i]!, series.values[i]!, 'raw');
  }
  if (!configuration.stepped && series.times[end - 1] !== high) {
    const endBound = simpleBound(series, high, configuration);
    if (!countsAsBad(endBound.status, configuration)) consider(high, endBound.value, 'end bound');
  }
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
    return marked(view, time, best.value, status, source | (best.multiple ? InfoBits.multipleValues : 0));
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
