/** Which blocks a tag's new samples are joined with. Pure. */
import {
  BLOCK_SAMPLES,
  DENSE_HOUR_SAMPLES,
  HOUR,
  monthStart,
  nextMonth,
  selectSamples,
  type Frame,
} from '@wide-ledger/core';
import type { BlockPlace } from './blocks.ts';

/** New samples further apart than this are placed apart: a late value years ago has nothing to do with the present. */
const APART = HOUR;

/** New samples of one tag that lie together in time, in one UTC month. */
export interface Segment {
  readonly tag: number;
  readonly first: number;
  readonly last: number;
  readonly samples: number;
  /** What each of the given frames adds, in their order; `from` is its position among them. */
  readonly parts: readonly { readonly from: number; readonly frame: Frame }[];
}

/** Segments that are written together with the blocks they are joined with. */
export interface Placement {
  readonly tag: number;
  readonly segments: Segment[];
  readonly blocks: BlockPlace[];
}

/** Cuts one tag's new samples where they lie far apart and where months meet. @param frames in the order of their entries. */
export function cutIntoSegments(tag: number, frames: readonly Frame[]): Segment[] {
  const length = frames.reduce((sum, { times }) => sum + times.length, 0);
  const times = new Float64Array(length);
  frames.reduce((at, frame) => (times.set(frame.times, at), at + frame.times.length), 0);
  if (!isAscending(times)) times.sort();
  const segments: Segment[] = [];
  let monthEnd = nextMonth(monthStart(times[0]!));
  for (let from = 0, i = 1; i <= length; i++) {
    if (i < length && times[i]! - times[i - 1]! <= APART && times[i]! < monthEnd) continue;
    if (i < length) monthEnd = nextMonth(monthStart(times[i]!));
    const [first, last] = [times[from]!, times[i - 1]!];
    const all = from === 0 && i === length;
    const parts = frames
      .map((frame, f) => ({
        from: f,
        frame: all ? frame : selectSamples(frame, (k) => frame.times[k]! >= first && frame.times[k]! <= last),
      }))
      .filter(({ frame }) => frame.times.length > 0);
    segments.push({ tag, first, last, samples: i - from, parts });
    from = i;
  }
  return segments;
}

/** Whether times come as most do, in their order, which is found out sooner than they are sorted. */
function isAscending(times: Float64Array): boolean {
  for (let i = 1; i < times.length; i++) if (times[i]! < times[i - 1]!) return false;
  return true;
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
  let size = segment.samples + chosen.reduce((sum, block) => sum + block.samples, 0);
  const before = blocks.filter((block) => block.last < segment.first).sort((a, b) => b.first - a.first);
  for (const block of before) {
    if (block.first <= after || isClosedHour(block, segment.first)) break;
    if (block.samples > 2 * size || block.samples + size > BLOCK_SAMPLES) break;
    chosen.push(block);
    size += block.samples;
  }
  return chosen;
}

/** Whether a block holds an earlier hour of its own, which joining would only cut off again. */
function isClosedHour({ first, last, samples }: BlockPlace, time: number): boolean {
  const hour = Math.floor(last / HOUR);
  return samples >= DENSE_HOUR_SAMPLES && Math.floor(first / HOUR) === hour && hour < Math.floor(time / HOUR);
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
