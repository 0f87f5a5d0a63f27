/** What a formula gives over a stretch of the archive, piece by piece, beside what stands there. */
import { derive, derivedDifference, fitted, type Frame, type Span } from '@wide-ledger/core';
import type { DerivedTag, StoredTag } from './derivedTags.ts';

/** A piece is an hour at first, and then as long as so many samples are apart. Microseconds, samples. */
export const FIRST_PIECE = 3_600_000_000;
const SHORTEST_PIECE = 60_000_000;
const FEW = 10_000;
const MANY = 60_000;

/** Where the samples of a window are to be had. */
export interface Samples {
  /** Of each tag in a window, and before it as many as a formula may look at. */
  around(tags: readonly StoredTag[], window: Span): Promise<ReadonlyMap<number, Frame>>;
  /** What stands of one tag in a window. */
  standing(tag: StoredTag, window: Span): Promise<Frame | null>;
}

/** What has to be written of one piece; null for nothing. */
export interface Piece {
  readonly frame: Frame | null;
  /** How many samples were looked at. */
  readonly samples: number;
}

/** One piece of a stretch. */
export async function computePiece(from: Samples, tag: DerivedTag, window: Span): Promise<Piece> {
  const found = await from.around(tag.inputs, window);
  const inputs = tag.inputs.map(({ id }) => found.get(id)!);
  const wanted = fitted(tag, derive(tag.formula, inputs, window));
  const frame = derivedDifference(await from.standing(tag, window), wanted);
  return { frame, samples: inputs.reduce((sum, { times }) => sum + times.length, 0) };
}

/** How long the next piece is, after one that held so many samples. */
export function nextLength(length: number, samples: number): number {
  if (samples < FEW) return length * 4;
  return samples > MANY ? Math.max(SHORTEST_PIECE, length / 4) : length;
}

/** All that has to be written of a stretch, piece by piece. */
export async function* computeStretch(samples: Samples, tag: DerivedTag, { from, to }: Span): AsyncGenerator<Frame> {
  let length = FIRST_PIECE;
  for (let at = from; at < to;) {
    const until = Math.min(at + length, to);
    const piece = await computePiece(samples, tag, { from: at, to: until });
    if (piece.frame) yield piece.frame;
    length = nextLength(length, piece.samples);
    at = until;
  }
}
