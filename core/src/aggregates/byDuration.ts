/** How long a quality or a state lasted, in milliseconds (D9), and the worst quality met. */
import { InfoBits, Status, severityOf, withoutInfoBits } from '../status/codes.ts';
import { simpleBound } from './bounds.ts';
import { measureRegions, type IntervalView } from './interval.ts';
import { calculated, noData, statusByTime, type Aggregate } from './result.ts';
import { countsAsBad, firstAtOrAfter } from './series.ts';

const MILLISECOND = 1000;

/** Quality over the interval up to the end of the data; time before the first value is Bad (D3, D13). */
const qualityDuration =
  (quality: 'good' | 'bad', asPercent: boolean): Aggregate =>
  (view) => {
    const regions = measureRegions(view, view.earlier, view.high, false);
    const length = view.high - view.earlier;
    if (!asPercent) return calculated(view, regions[quality] / MILLISECOND, Status.Good);
    return calculated(
      view,
      length > 0 ? (regions[quality] / length) * 100 : instantPercent(view, quality),
      Status.Good,
    );
  };

/** The share in an interval whose data end where they start: all or nothing. */
function instantPercent(view: IntervalView, quality: 'good' | 'bad'): number {
  const bad = countsAsBad(view.series.status[view.first] ?? Status.BadNoData, view.configuration);
  return (quality === 'bad') === bad ? 100 : 0;
}

export const durationGood = qualityDuration('good', false);
export const durationBad = qualityDuration('bad', false);
export const percentGood = qualityDuration('good', true);
export const percentBad = qualityDuration('bad', true);

/** Time in which the held value is zero, or is not; time that is Bad is in neither. */
const durationInState =
  (zero: boolean): Aggregate =>
  (view) => {
    const { series, configuration, low, high } = view;
    const { times, values, status } = series;
    let length = 0;
    let i = firstAtOrAfter(times, low);
    if (times[i] !== low) i--;
    for (i = Math.max(i, 0); i < times.length && times[i]! < high; i++) {
      if (countsAsBad(status[i]!, configuration) || (values[i] === 0) !== zero) continue;
      length += Math.min(high, times[i + 1] ?? high) - Math.max(low, times[i]!);
    }
    return calculated(view, length / MILLISECOND, statusByTime(view, false));
  };

export const durationInStateZero = durationInState(true);
export const durationInStateNonZero = durationInState(false);

const SEVERITIES = ['Good', 'Uncertain', 'Bad'] as const;

const rankOf = (status: number): number => SEVERITIES.indexOf(severityOf(status));

/**
 * The worst status as the value: the code of the first raw value of the worst severity, MultipleValues where raw
 * values of that severity have other codes. A start bound counts by its severity and gives its code only alone.
 */
const worstQuality =
  (withStartBound: boolean): Aggregate =>
  (view) => {
    const { series, configuration, earlier, first, end } = view;
    const met = Array.from(series.status.subarray(first, end), withoutInfoBits);
    const bound = withStartBound ? withoutInfoBits(simpleBound(series, earlier, configuration).status) : null;
    if (met.length === 0 && bound === null) return noData(view);
    const worst = Math.max(...met.map(rankOf), bound === null ? 0 : rankOf(bound));
    const codes = met.filter((status) => rankOf(status) === worst);
    const differ = codes.some((code) => code !== codes[0]);
    return calculated(view, codes[0] ?? bound!, Status.Good, differ ? InfoBits.multipleValues : 0);
  };

export const worstQualityOfValues = worstQuality(false);
export const worstQuality2 = worstQuality(true);
