/** Summaries of tags over whole intervals: those that ended, or those that a change may have touched. */
import {
  endedBetween,
  firstAtOrAfter,
  isBad,
  isUncertain,
  shortestOf,
  summaryInterval,
  wholeIntervals,
  type Bucket,
  type Interval,
  type Span,
} from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { ReadTag } from '../readTag.ts';
import type { Asker } from '../requests.ts';
import type { SummariesLine, SummariesRequest } from '../summaries.ts';
import { EVERY_SAMPLE } from '../tagLedger.ts';
import { askLedger } from './pieces.ts';
import { aggregateTag } from './processed.ts';

/** @returns JSON, each a SummariesLine, in the order of the tags. */
export async function* summariesAnswer(
  stores: Stores,
  { tags, over, zone }: SummariesRequest,
  asker: Asker,
): AsyncGenerator<string> {
  for (const { tag, summaries, which, span } of tags) {
    const figures: SummariesLine['figures'][number][] = [];
    const felt = which === 'touched' ? await reachOf(stores, tag, span) : span;
    // Those over the same intervals are computed in one pass.
    for (const written of new Set(summaries.map(({ interval }) => interval))) {
      const interval = summaryInterval(written)!;
      const touched = which === 'touched' ? newest(felt, over, interval) : felt;
      const buckets: Bucket[] =
        which === 'ended'
          ? endedBetween(span.from, span.to, interval, zone)
          : wholeIntervals(touched, over, interval, zone);
      if (buckets.length === 0) continue;
      const asked = [...summaries.entries()].filter(([, one]) => one.interval === written);
      const aggregates = asked.map(([, { aggregate }]) => aggregate);
      const { results } = await aggregateTag(stores, tag, { buckets, aggregates }, asker);
      results.forEach(({ values, status }, k) =>
        buckets.forEach(({ begin }, i) => {
          const value = values[i]!;
          figures.push([asked[k]![0], begin, Number.isNaN(value) ? null : value, status[i]!]);
        }),
      );
    }
    yield JSON.stringify({ tag: tag.id, figures } satisfies SummariesLine);
  }
}

/** Intervals that are computed anew in one go. */
const MOST_ANEW = 100_000;

/** The newest part of a span that is not too much: what lies before is found when both ends are compared. */
function newest({ from, to }: Span, over: number, interval: Interval): Span {
  const end = Math.min(to, over);
  return { from: Math.max(from, end - MOST_ANEW * shortestOf(interval)), to };
}

/** As far as a change within a span can be felt: what lies between two values follows from both. Microseconds. */
const reachOf = (stores: Stores, tag: ReadTag, { from, to }: Span): Promise<Span> =>
  askLedger(stores, tag, async (ledger) => {
    const usesUncertain = !tag.configuration.treatUncertainAsBad;
    let before = -Infinity;
    let after = Infinity;
    for await (const piece of ledger.pieces(from, to, { ...EVERY_SAMPLE, neighbours: true, usesUncertain })) {
      if (piece.kind !== 'samples') continue;
      const { times, status } = piece.frame;
      const usable = (i: number): boolean => !isBad(status[i]!) && (usesUncertain || !isUncertain(status[i]!));
      for (let i = firstAtOrAfter(times, from) - 1; i >= 0 && times[i]! > before; i--)
        if (usable(i)) before = times[i]!;
      for (let i = firstAtOrAfter(times, to); i < times.length && times[i]! < after; i++)
        if (usable(i)) after = times[i]!;
    }
    // Before the first value there is nothing to be felt; behind the last one it is felt to the end.
    return { from: before === -Infinity ? from : before, to: after };
  });
