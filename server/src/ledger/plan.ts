/** Which blocks a tag's new samples are joined with. Pure. */
import { BLOCK_SAMPLES } from '@wide-ledger/core';
import type { BlockPlace } from './blocks.ts';

/**
 * The blocks to rewrite together with new samples: all that overlap them, and before those the ones that are not
 * much larger than what follows. Joining only with its like keeps the work per sample logarithmic, and the number
 * of small blocks too, however slowly a tag moves.
 * @param blocks of one tag; those that end before `first` and those that overlap [first, last].
 */
export function chooseBlocks(blocks: readonly BlockPlace[], first: number, samples: number): BlockPlace[] {
  const chosen = blocks.filter((block) => block.last >= first);
  let size = samples + chosen.reduce((sum, block) => sum + block.samples, 0);
  const before = blocks.filter((block) => block.last < first).sort((a, b) => b.first - a.first);
  for (const block of before) {
    if (block.samples > 2 * size || block.samples + size > BLOCK_SAMPLES) break;
    chosen.push(block);
    size += block.samples;
  }
  return chosen;
}
