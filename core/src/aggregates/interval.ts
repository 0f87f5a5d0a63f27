/** One interval of a request laid over a series. */
import type { Bucket } from '../time/buckets.ts';
import type { AggregateConfiguration } from './configuration.ts';
import { firstAtOrAfter, qualityOf, type Series } from './series.ts';

/**
 * The interval [begin, finish) in the direction of the request, the samples [first, end) that belong to it, and
 * the part [low, high] of it between the start and the end of the data: its effective duration (D1).
 */
export interface IntervalView {
  readonly series: Series;
  readonly configuration: AggregateConfiguration;
  readonly begin: number;
  readonly finish: number;
  readonly earlier: number;
  readonly later: number;
  readonly first: number;
  readonly end: number;
  readonly low: number;
  readonly high: number;
  /** Truncated by the request's end, or reaching beyond the start or the end of the data. */
  readonly partial: boolean;
  /** No part of it lies within the data. */
  readonly empty: boolean;
}

/** Lays a bucket over the series. A sample on the begin edge belongs to it, one on the finish edge does not. */
export function viewInterval(series: Series, bucket: Bucket, configuration: AggregateConfiguration): IntervalView {
  const { begin, finish, truncated } = bucket;
  const { times, dataEnd } = series;
  const forward = begin < finish;
  const earlier = forward ? begin : finish;
  const later = forward ? finish : begin;
  // Times are whole microseconds, so "after t" is "at or after t + 1".
  const shift = forward ? 0 : 1;
  const first = firstAtOrAfter(times, earlier + shift);
  const end = firstAtOrAfter(times, later + shift);
  const dataStart = times[0] ?? Infinity;
  const low = Math.max(earlier, dataStart);
  const high = Math.min(later, dataEnd);
  return {
    series,
    configuration,
    begin,
    finish,
    earlier,
    later,
    first,
    end,
    low,
    high,
    partial: truncated || earlier < dataStart || later > dataEnd,
    empty: end === first && !(low < high),
  };
}

export interface Regions {
  good: number;
  uncertain: number;
  bad: number;
}

/**
 * How long the interval's data were Good, Uncertain and Bad, in microseconds, over [from, to]. A region starts with
 * each sample and has the quality of its start; with `sloped`, a Good region that ends at a Bad sample is Uncertain
 * (D3). Time before the first sample is Bad.
 */
export function measureRegions(view: IntervalView, from: number, to: number, sloped: boolean): Regions {
  const { series, configuration } = view;
  const { times, status } = series;
  const regions: Regions = { good: 0, uncertain: 0, bad: 0 };
  let index = firstAtOrAfter(times, from);
  if (times[index] !== from) index--;
  if (index < 0) {
    regions.bad += Math.max(0, Math.min(to, times[0] ?? to) - from);
    index = 0;
  }
  while (index < times.length && times[index]! < to) {
    // Equal statuses follow each other for thousands of samples: only where they change is there anything to decide.
    const code = status[index]!;
    let next = index + 1;
    while (next < times.length && status[next] === code && times[next]! < to) next++;
    const start = Math.max(from, times[index]!);
    const end = next < times.length ? Math.min(to, times[next]!) : to;
    const quality = qualityOf(code, configuration);
    const endsBad = next < times.length && qualityOf(status[next]!, configuration) === 'bad';
    if (sloped && quality === 'good' && endsBad) {
      const lastStart = Math.max(from, times[next - 1]!);
      regions.good += lastStart - start;
      regions.uncertain += end - lastStart;
    } else {
      regions[quality] += end - start;
    }
    index = next;
  }
  return regions;
}
