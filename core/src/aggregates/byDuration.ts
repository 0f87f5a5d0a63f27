/** How long a quality or a state lasted, in milliseconds (D9), and the worst quality met. */
import { InfoBits, Status, severityOf, withoutInfoBits } from '../status/codes.ts';
import { countsAsBad } from './configuration.ts';
import type { IntervalView } from './interval.ts';
import { calculated, noData, statusByTime, type Aggregate } from './result.ts';

const MILLISECOND = 1000;

/**
 * Time by the quality of the sample that it starts at (D3, D13), up to the end of the data; time before the first
 * sample is Bad.
 */
function timeOf({ sums, earlier, high, dataStart }: IntervalView, quality: 'good' | 'bad'): number {
  if (quality === 'good') return sums.goodTime + sums.goodThenBadTime;
  return sums.badTime + Math.max(0, Math.min(high, dataStart) - earlier);
}

const qualityDuration =
  (quality: 'good' | 'bad'): Aggregate =>
  (view) =>
    calculated(view, timeOf(view, quality) / MILLISECOND, Status.Good);

const qualityPercent =
  (quality: 'good' | 'bad'): Aggregate =>
  (view) => {
    const length = view.high - view.earlier;
    const percent = length > 0 ? (timeOf(view, quality) / length) * 100 : instantPercent(view, quality);
    return calculated(view, percent, Status.Good);
  };

/** The share in an interval whose data end where they start: all or nothing. */
function instantPercent({ sums, configuration }: IntervalView, quality: 'good' | 'bad'): number {
  return (quality === 'bad') === countsAsBad(sums.first.status, configuration) ? 100 : 0;
}

/** Milliseconds of the interval in which the held or sloped value is Good. */
export const durationGood = qualityDuration('good');
/** Milliseconds of the interval that are Bad. */
export const durationBad = qualityDuration('bad');
/** Share of the interval that is Good, 0 to 100. */
export const percentGood = qualityPercent('good');
/** Share of the interval that is Bad, 0 to 100. */
export const percentBad = qualityPercent('bad');

/** Time in which the held value is zero, or is not; time that is Bad is in neither. */
export const durationInStateZero: Aggregate = (view) =>
  calculated(view, view.sums.zeroTime / MILLISECOND, statusByTime(view, false));
/** Milliseconds in which the held value is not zero; time that is Bad is in neither state. */
export const durationInStateNonZero: Aggregate = (view) =>
  calculated(view, view.sums.nonZeroTime / MILLISECOND, statusByTime(view, false));

const RANKS = { Good: 0, Uncertain: 1, Bad: 2 } as const;

/**
 * The worst status as the value: the code of the first raw value of the worst severity, MultipleValues where raw
 * values of that severity have other codes. A start bound counts by its severity and gives its code only alone.
 */
const worstQuality =
  (withStartBound: boolean): Aggregate =>
  (view) => {
    const { worstRank, worstCode, worstDiffers } = view.sums;
    const bound = withStartBound ? withoutInfoBits(view.simpleAtEarlier.status) : null;
    if (worstRank < 0 && bound === null) return noData(view);
    if (bound !== null && RANKS[severityOf(bound)] > worstRank) return calculated(view, bound, Status.Good);
    return calculated(view, worstCode, Status.Good, worstDiffers ? InfoBits.multipleValues : 0);
  };

/** The worst status among the raw values inside the interval. */
export const worstQualityOfValues = worstQuality(false);
/** The worst status among the raw values and the bound at the interval's start. */
export const worstQuality2 = worstQuality(true);
