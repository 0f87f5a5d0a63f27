/** The samples that stand in a window of a tag, posted or not: what a correction or an import is held against. */
import { firstAtOrAfter, sliceFrame, type Frame, type Span } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';
import type { Stores } from '../stores/stores.ts';
import { askLedger } from './answers/pieces.ts';
import { EVERY_SAMPLE, type TagLedger } from './tagLedger.ts';

/** @param window microseconds, [from, to); may be asked of the ledger. @returns frames in time order, none of them empty. */
export const standingFrames = (
  stores: Stores,
  tag: Pick<TagRow, 'id' | 'storeId'>,
  window: Span | ((ledger: TagLedger) => Promise<Span>),
): Promise<Frame[]> =>
  askLedger(stores, { id: tag.id, store: tag.storeId }, async (ledger) => {
    const { from, to } = typeof window === 'function' ? await window(ledger) : window;
    const frames: Frame[] = [];
    for await (const piece of ledger.pieces(from, to, { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true })) {
      if (piece.kind !== 'samples') continue;
      const { times } = piece.frame;
      frames.push(sliceFrame(piece.frame, firstAtOrAfter(times, from), firstAtOrAfter(times, to)));
    }
    return frames.filter((frame) => frame.times.length > 0);
  });
