/** Values at the edges of an interval (OPC 10000-13, 3.1.8 interpolated and 3.1.9 simple bounding values). */
import { InfoBits, Status, isGood, withInfoBits } from '../status/codes.ts';
import type { AggregateConfiguration } from './configuration.ts';
import { countsAsBad, firstAtOrAfter, type Series } from './series.ts';

export interface Bound {
  readonly value: number;
  readonly status: number;
}

const MISSING: Bound = { value: NaN, status: Status.BadNoData };
const interpolated = (value: number, good: boolean): Bound => ({
  value,
  status: withInfoBits(good ? Status.Good : Status.UncertainDataSubNormal, InfoBits.interpolated),
});

const line = (at: number, t0: number, v0: number, t1: number, v1: number): number =>
  v0 + ((at - t0) * (v1 - v0)) / (t1 - t0);

/**
 * Interpolated bound: a usable raw value at the time itself, else between the nearest usable values on both sides,
 * however many unusable ones lie between (the status then is Uncertain_DataSubNormal). Without a usable value
 * before: Bad_NoData. After the last usable value it is extrapolated: held, or along the line of the last two with
 * UseSlopedExtrapolation; Uncertain_DataSubNormal, unless the tag was still watched at that time (D1).
 */
export function interpolatedBound(series: Series, time: number, configuration: AggregateConfiguration): Bound {
  const { times, values, status } = series;
  const usable = (index: number): boolean => !countsAsBad(status[index]!, configuration);
  const at = firstAtOrAfter(times, time);
  if (times[at] === time && usable(at)) return { value: values[at]!, status: status[at]! };
  let before = at - 1;
  while (before >= 0 && !usable(before)) before--;
  if (before < 0) return MISSING;
  let after = times[at] === time ? at + 1 : at;
  const skippedBefore = before < at - 1 || times[at] === time;
  while (after < times.length && !usable(after)) after++;
  const held = values[before]!;
  const goodBefore = isGood(status[before]!) && !skippedBefore;
  if (after >= times.length) {
    const known = time <= series.dataEnd && at >= times.length;
    if (known) return interpolated(held, goodBefore);
    if (configuration.useSlopedExtrapolation && !configuration.stepped) {
      let earlier = before - 1;
      while (earlier >= 0 && !usable(earlier)) earlier--;
      if (earlier >= 0) {
        return interpolated(line(time, times[earlier]!, values[earlier]!, times[before]!, held), false);
      }
    }
    return interpolated(held, configuration.stepped && at < times.length && goodBefore);
  }
  if (configuration.stepped) return interpolated(held, goodBefore);
  const skippedAfter = after > at;
  return interpolated(
    line(time, times[before]!, held, times[after]!, values[after]!),
    goodBefore && !skippedAfter && isGood(status[after]!),
  );
}

/**
 * Simple bound: takes the immediate neighbours whatever their quality. A raw value at the time itself is the bound,
 * even a Bad one; a Bad or missing value before gives Bad_NoData; stepped data hold the value before with its
 * quality; sloped data that end at a Bad or missing value hold it as Uncertain_DataSubNormal (D11).
 */
export function simpleBound(series: Series, time: number, configuration: AggregateConfiguration): Bound {
  const { times, values, status } = series;
  const at = firstAtOrAfter(times, time);
  if (times[at] === time) return { value: values[at]!, status: status[at]! };
  const before = at - 1;
  if (before < 0 || countsAsBad(status[before]!, configuration)) return MISSING;
  const held = values[before]!;
  const goodBefore = isGood(status[before]!);
  if (at >= times.length) return interpolated(held, goodBefore && time <= series.dataEnd);
  if (configuration.stepped) return interpolated(held, goodBefore);
  if (countsAsBad(status[at]!, configuration)) return interpolated(held, false);
  return interpolated(line(time, times[before]!, held, times[at]!, values[at]!), goodBefore && isGood(status[at]!));
}
