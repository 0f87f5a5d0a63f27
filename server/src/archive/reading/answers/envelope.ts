/** What a trend draws. */
import { EnvelopePass, NO_PARTS, firstAtOrAfter, sliceFrame } from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Chunk } from '../formats/table.ts';
import type { EnvelopeRequest, Asker } from '../requests.ts';
import { piecesOf } from './pieces.ts';

/** The points of a trend in milliseconds, with one sample beyond each edge of the window, so that lines reach it. */
export async function* envelopeAnswer(
  stores: Stores,
  { tags: [tag], from, to, columns, echo }: EnvelopeRequest,
  asker: Asker,
): AsyncGenerator<Chunk> {
  const pass = new EnvelopePass(from, to, columns);
  const reader = {
    parts: { ...NO_PARTS, extremes: true },
    takesWhole: (first: number, last: number) => first >= from && last < to && pass.takesWhole(first, last),
    neighbours: true,
    usesUncertain: true,
  };
  // An empty window has no trend, though it has neighbours.
  const pieces = from < to ? piecesOf(stores, tag!, from, to, reader, asker) : [];
  for await (const piece of pieces) {
    if (piece.kind === 'summaries') {
      for (const run of piece.runs) pass.takeSummary(run);
      continue;
    }
    const { times } = piece.frame;
    const first = Math.max(0, firstAtOrAfter(times, from) - 1);
    const end = Math.min(times.length, firstAtOrAfter(times, to) + 1);
    pass.take(sliceFrame(piece.frame, first, end));
  }
  const { times, values, samples } = pass.finish();
  yield JSON.stringify({
    ...echo,
    samples,
    times: Array.from(times, (time) => time / 1000),
    values: Array.from(values, (value) => (Number.isFinite(value) ? value : null)),
  });
}
