/** Putting samples in their place: sorting, merging by time, and cutting into ledger blocks. */
import { emptyFrame, sliceFrame, type Frame } from '../frame/frame.ts';

/** A value that another one at the same time has taken the place of. */
export interface Displaced {
  readonly time: number;
  readonly value: number;
  readonly text: string | null;
  readonly status: number;
  readonly origin: number;
}

export interface Merged {
  readonly frame: Frame;
  readonly displaced: readonly Displaced[];
}

/** The text of a text sample, or null when it has none. */
export function textAt(frame: Frame, index: number): string | null {
  const position = frame.values[index]!;
  return Number.isNaN(position) ? null : (frame.texts[position] ?? null);
}

/**
 * One tag's samples out of several frames with origins, as one frame in time order. Frames are given oldest
 * entry first: for one time stamp the last one stands and those before it are displaced, unless value and
 * status are the same, which changes nothing (decision D14 of the aggregates, and exactly-once by content).
 */
export function mergeFrames(frames: readonly Frame[]): Merged {
  const { texts, recode } = unionOfTexts(frames);
  const starts: number[] = [];
  let total = 0;
  for (const frame of frames) {
    starts.push(total);
    total += frame.times.length;
  }
  const all = emptyFrame(total, { origins: true });
  frames.forEach((frame, f) => {
    const at = starts[f]!;
    all.times.set(frame.times, at);
    all.values.set(recode === null ? frame.values : frame.values.map((v) => recode[f]![v] ?? NaN), at);
    all.status.set(frame.status, at);
    if (frame.origins) all.origins!.set(frame.origins, at);
  });
  if (isAscending(all.times)) return { frame: { ...all, texts }, displaced: [] };

  const order = Uint32Array.from({ length: total }, (_, i) => i);
  order.sort((a, b) => all.times[a]! - all.times[b]! || a - b);
  const merged = emptyFrame(total, { origins: true });
  const displaced: Displaced[] = [];
  let n = 0;
  const put = (from: number, to: number): void => {
    merged.times[to] = all.times[from]!;
    merged.values[to] = all.values[from]!;
    merged.status[to] = all.status[from]!;
    merged.origins![to] = all.origins![from]!;
  };
  for (const i of order) {
    const last = n - 1;
    if (n > 0 && merged.times[last] === all.times[i]) {
      if (Object.is(merged.values[last], all.values[i]) && merged.status[last] === all.status[i]) continue;
      displaced.push({
        time: merged.times[last]!,
        value: merged.values[last]!,
        text: texts[merged.values[last]!] ?? null,
        status: merged.status[last]!,
        origin: merged.origins![last]!,
      });
      put(i, last);
    } else {
      put(i, n++);
    }
  }
  return { frame: { ...sliceFrame(merged, 0, n), texts }, displaced };
}

/** One list of texts for all frames, and per frame the new position of each of its texts; null without texts. */
function unionOfTexts(frames: readonly Frame[]): { texts: string[]; recode: number[][] | null } {
  if (frames.every((frame) => frame.texts.length === 0)) return { texts: [], recode: null };
  const positions = new Map<string, number>();
  const recode = frames.map((frame) =>
    frame.texts.map((text) => {
      const known = positions.get(text) ?? positions.size;
      positions.set(text, known);
      return known;
    }),
  );
  return { texts: [...positions.keys()], recode };
}

function isAscending(times: Float64Array): boolean {
  for (let i = 1; i < times.length; i++) if (times[i]! <= times[i - 1]!) return false;
  return true;
}

/** One tag's part of an entry's frame, with the origin of the entry on every sample. */
export function splitByTag(frame: Frame, origin: number): Map<number, Frame> {
  const tags = frame.tags;
  if (tags === null) throw new RangeError('Only a frame with a tag column can be split by tag.');
  const counts = new Map<number, number>();
  for (const tag of tags) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  const parts = new Map<number, { frame: Frame; filled: number }>();
  for (const [tag, count] of counts) {
    const part = emptyFrame(count, { origins: true });
    part.origins!.fill(origin);
    parts.set(tag, { frame: { ...part, texts: frame.texts }, filled: 0 });
  }
  for (let i = 0; i < tags.length; i++) {
    const part = parts.get(tags[i]!)!;
    part.frame.times[part.filled] = frame.times[i]!;
    part.frame.values[part.filled] = frame.values[i]!;
    part.frame.status[part.filled] = frame.status[i]!;
    part.filled++;
  }
  return new Map([...parts].map(([tag, part]) => [tag, part.frame]));
}

/** Most samples in one ledger block: measured as the best of size against reading. */
export const BLOCK_SAMPLES = 4096;

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

/** Cuts one tag's ordered samples into blocks: at most {@link BLOCK_SAMPLES} each, none across a UTC month's edge. */
export function cutIntoBlocks(frame: Frame): Frame[] {
  const blocks: Frame[] = [];
  const { times } = frame;
  let from = 0;
  while (from < times.length) {
    const edge = nextMonth(monthStart(times[from]!));
    let to = Math.min(from + BLOCK_SAMPLES, times.length);
    while (times[to - 1]! >= edge) to--;
    blocks.push(compactTexts(sliceFrame(frame, from, to)));
    from = to;
  }
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
