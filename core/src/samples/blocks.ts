/** Cutting one tag's ordered samples into ledger blocks. */
import { sliceFrame, type Frame } from '../frame/frame.ts';
import { HOUR } from '../time/instants.ts';

/** Most samples in one ledger block: measured as the best of size against reading. */
export const BLOCK_SAMPLES = 4096;
/**
 * An hour with so many samples gets blocks of its own, so that hours, days and months are summed up from the blocks'
 * summaries without opening any. With fewer, a block of many hours is smaller, and quickly read.
 */
export const DENSE_HOUR_SAMPLES = 512;

/** First microsecond of the UTC month that holds an instant: blocks never cross it, so retention drops whole months. */
export function monthStart(micros: number): number {
  const date = new Date(Math.floor(micros / 1000));
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), 1) * 1000;
}

/** First microsecond of the UTC month after the one that starts at an instant. */
export function nextMonth(start: number): number {
  const date = new Date(Math.floor(start / 1000));
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 1) * 1000;
}

/**
 * Cuts one tag's ordered samples into blocks: at most {@link BLOCK_SAMPLES} each, none across a UTC month's edge, and
 * none across a UTC hour's that holds {@link DENSE_HOUR_SAMPLES} or more.
 */
export function cutIntoBlocks(frame: Frame): Frame[] {
  const { times } = frame;
  const blocks: Frame[] = [];
  let from = 0;
  const close = (to: number): void => {
    for (; from < to; from = Math.min(from + BLOCK_SAMPLES, to)) {
      blocks.push(compactTexts(sliceFrame(frame, from, Math.min(from + BLOCK_SAMPLES, to))));
    }
  };
  let month = NaN;
  for (let start = 0; start < times.length;) {
    const hour = Math.floor(times[start]! / HOUR);
    let end = start + 1;
    while (end < times.length && times[end]! < (hour + 1) * HOUR) end++;
    const here = monthStart(times[start]!);
    const dense = end - start >= DENSE_HOUR_SAMPLES;
    if (here !== month || dense || end - from > BLOCK_SAMPLES) close(start);
    if (dense) close(end);
    month = here;
    start = end;
  }
  close(times.length);
  return blocks;
}

/** Keeps only the texts that the frame's samples point at. */
export function compactTexts(frame: Frame): Frame {
  if (frame.texts.length === 0) return frame;
  const positions = new Map<string, number>();
  const values = frame.values.map((position) => {
    if (Number.isNaN(position)) return NaN;
    const text = frame.texts[position]!;
    const known = positions.get(text) ?? positions.size;
    positions.set(text, known);
    return known;
  });
  return { ...frame, values, texts: [...positions.keys()] };
}
