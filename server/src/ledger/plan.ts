/** Which blocks a tag's new samples are joined with. Pure. */
import { BLOCK_SAMPLES, HOUR, sliceFrame, type Frame } from '@wide-ledger/core';
import type { BlockPlace } from './blocks.ts';

/** New samples further apart than this are placed apart: a late value years ago has nothing to do with the present. */
const APART = HOUR;

/** New samples of one tag that lie together in time. */
export interface Segment {
  readonly tag: number;
  readonly first: number;
  readonly last: number;
  readonly frame: Frame;
}

/** Segments that are written together with the blocks they are joined with. */
export interface Placement {
  readonly tag: number;
  readonly segments: Segment[];
  readonly blocks: BlockPlace[];
}

/** Cuts one tag's ordered new samples where they lie far apart. */
export function cutIntoSegments(tag: number, frame: Frame): Segment[] {
  const { times } = frame;
  const segments: Segment[] = [];
  for (let from = 0, i = 1; i <= times.length; i++) {
    if (i < times.length && times[i]! - times[i - 1]! <= APART) continue;
    segments.push({ tag, first: times[from]!, last: times[i - 1]!, frame: sliceFrame(frame, from, i) });
    from = i;
  }
  return segments;
}

/**
 * The blocks to rewrite together with new samples: all that overlap them, and before those the ones that are not
 * much larger than what follows. Joining only with its like keeps the work per sample logarithmic, and the number
 * of small blocks too, however slowly a tag moves.
 * @param blocks that end before the segment, and those that overlap it.
 * @param after blocks that end before this time are out of reach: another segment lies between.
 */
export function chooseBlocks(segment: Segment, blocks: readonly BlockPlace[], after: number): BlockPlace[] {
  const chosen = blocks.filter((block) => block.last >= segment.first);
  let size = segment.frame.times.length + chosen.reduce((sum, block) => sum + block.samples, 0);
  const before = blocks.filter((block) => block.last < segment.first).sort((a, b) => b.first - a.first);
  for (const block of before) {
    if (block.first <= after || block.samples > 2 * size || block.samples + size > BLOCK_SAMPLES) break;
    chosen.push(block);
    size += block.samples;
  }
  return chosen;
}

/** Places one tag's segments, in time order; those that meet in one block go together. */
export function placeSegments(segments: readonly Segment[], found: readonly (readonly BlockPlace[])[]): Placement[] {
  const placements: Placement[] = [];
  segments.forEach((segment, index) => {
    const last = placements.at(-1);
    const chosen = chooseBlocks(segment, found[index]!, segments[index - 1]?.last ?? -Infinity);
    const shared = last?.blocks.some((block) => chosen.some(({ first }) => first === block.first)) ?? false;
    if (!last || !shared) {
      placements.push({ tag: segment.tag, segments: [segment], blocks: chosen });
      return;
    }
    last.segments.push(segment);
    for (const block of chosen) if (!last.blocks.some(({ first }) => first === block.first)) last.blocks.push(block);
  });
  return placements;
}
