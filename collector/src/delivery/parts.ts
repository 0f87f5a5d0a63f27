/** An entry in parts: what is too much for a server at once it takes one after the other. Pure. */
import type { EntryDescription } from '@wide-ledger/contract';
import { packEntry, sliceFrame, unpackEntry } from '@wide-ledger/core';

/** Most of each in a part. A server takes ten thousand watches and as many outages at once, and 64 MB. */
export const MOST_SPANS = 5_000;
export const MOST_SAMPLES = 200_000;

const pieceOf = <Item>(items: readonly Item[], part: number): readonly Item[] =>
  items.slice(part * MOST_SPANS, (part + 1) * MOST_SPANS);

/**
 * The parts of an entry: one where it is small enough. Watches and outages go with the samples that came with them as
 * far as they fit.
 * @param describe the description of each part, given the whole one: parts are numbered by their writer from 1.
 */
export function partsOf(
  packed: Uint8Array,
  description: EntryDescription,
  describe: (whole: EntryDescription, part: number) => EntryDescription,
): Uint8Array[] {
  const { frame } = unpackEntry(packed);
  const { watches, outages, recoveries } = description;
  const samples = frame?.times.length ?? 0;
  const parts = Math.max(
    1,
    Math.ceil(watches.length / MOST_SPANS),
    Math.ceil(outages.length / MOST_SPANS),
    Math.ceil((recoveries?.length ?? 0) / MOST_SPANS),
    Math.ceil(samples / MOST_SAMPLES),
  );
  return Array.from({ length: parts }, (_, part) => {
    const [from, to] = [part * MOST_SAMPLES, Math.min(samples, (part + 1) * MOST_SAMPLES)];
    const own = {
      ...description,
      watches: [...pieceOf(watches, part)],
      outages: [...pieceOf(outages, part)],
      ...(recoveries && { recoveries: [...pieceOf(recoveries, part)] }),
    };
    const described = describe(own, part + 1);
    const slice = frame && from < to ? sliceFrame(frame, from, to) : null;
    return packEntry(described, slice);
  });
}
