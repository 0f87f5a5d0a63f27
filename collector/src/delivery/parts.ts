/** An entry in parts: what is too much for a server at once it takes one after the other. Pure. */
import type { EntryDescription } from '@wide-ledger/contract';
import { packEntry, sliceFrame, unpackEntry, type Frame } from '@wide-ledger/core';

/** Most of each in a part. A server takes ten thousand watches and as many outages at once, and 64 MB. */
export const MOST_SPANS = 5_000;
export const MOST_SAMPLES = 200_000;

/** What is said beside the samples of an entry. */
type Said = Pick<EntryDescription, 'watches' | 'outages' | 'recoveries'>;

export interface Piece<Description extends Said> {
  readonly description: Description;
  readonly frame: Frame | null;
}

const pieceOf = <Item>(items: readonly Item[], part: number): Item[] =>
  items.slice(part * MOST_SPANS, (part + 1) * MOST_SPANS);

/**
 * What an entry holds, in pieces: one where it is small enough. Watches and outages go with the samples that came with
 * them as far as they fit.
 */
export function piecesOf<Description extends Said>(
  frame: Frame | null,
  description: Description,
): Piece<Description>[] {
  const { watches, outages, recoveries } = description;
  const samples = frame?.times.length ?? 0;
  const count = Math.max(
    1,
    Math.ceil(watches.length / MOST_SPANS),
    Math.ceil(outages.length / MOST_SPANS),
    Math.ceil((recoveries?.length ?? 0) / MOST_SPANS),
    Math.ceil(samples / MOST_SAMPLES),
  );
  if (count === 1) return [{ description, frame }];
  return Array.from({ length: count }, (_, part) => {
    const [from, to] = [part * MOST_SAMPLES, Math.min(samples, (part + 1) * MOST_SAMPLES)];
    const own = {
      ...description,
      watches: pieceOf(watches, part),
      outages: pieceOf(outages, part),
      ...(recoveries && { recoveries: pieceOf(recoveries, part) }),
    };
    return { description: own, frame: frame && from < to ? sliceFrame(frame, from, to) : null };
  });
}

/**
 * The parts of a packed entry.
 * @param describe the description of each part, given the whole one: parts are numbered by their writer from 1.
 */
export const partsOf = (
  packed: Uint8Array,
  description: EntryDescription,
  describe: (whole: EntryDescription, part: number) => EntryDescription,
): Uint8Array[] =>
  piecesOf(unpackEntry(packed).frame, description).map((piece, part) =>
    packEntry(describe(piece.description, part + 1), piece.frame),
  );
