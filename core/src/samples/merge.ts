/** Putting samples in their place: sorting and merging by time, the later entry before the earlier one. */
import { emptyFrame, sliceFrame, toWhole, wholeAt, type Frame } from '../frame/frame.ts';
import { REMOVED } from '../status/codes.ts';

/** A value that another one at the same time has taken the place of, or that was removed. */
export interface Displaced {
  readonly time: number;
  readonly value: number;
  readonly text: string | null;
  /** All digits of a whole number that the double does not hold. */
  readonly whole: bigint | null;
  readonly status: number;
  readonly origin: number;
  /** Position of the frame that displaced it. */
  readonly by: number;
  readonly kind: 'replaced' | 'removed';
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
 * A sample of status {@link REMOVED} displaces what is there and does not stay itself, unless it is to be kept for a
 * later merge.
 */
export function mergeFrames(frames: readonly Frame[], { keepRemoved = false } = {}): Merged {
  const { all, frameOf } = concatenate(frames);
  const order = timeOrder(all.times);
  if (order === null) return { frame: keepRemoved ? all : withoutRemoved(all), displaced: [] };

  const merged = emptyFrame(all.times.length, { origins: true });
  const wholes = all.wholes ? new BigInt64Array(all.times.length) : null;
  const displaced: Displaced[] = [];
  let n = 0;
  const put = (from: number, to: number): void => {
    merged.times[to] = all.times[from]!;
    merged.values[to] = all.values[from]!;
    merged.status[to] = all.status[from]!;
    merged.origins![to] = all.origins![from]!;
    if (wholes) wholes[to] = all.wholes![from]!;
  };
  for (let k = 0; k < all.times.length; k++) {
    const i = order[k]!;
    const last = n - 1;
    if (n > 0 && merged.times[last] === all.times[i]) {
      const same =
        Object.is(merged.values[last], all.values[i]) &&
        merged.status[last] === all.status[i] &&
        (!wholes || wholes[last] === all.wholes![i]);
      if (same) continue;
      if (merged.status[last] !== REMOVED) {
        displaced.push({
          time: merged.times[last]!,
          value: merged.values[last]!,
          text: all.texts[merged.values[last]!] ?? null,
          whole: wholeAt({ values: merged.values, wholes }, last),
          status: merged.status[last]!,
          origin: merged.origins![last]!,
          by: frameOf(i),
          kind: all.status[i] === REMOVED ? 'removed' : 'replaced',
        });
      }
      put(i, last);
    } else {
      put(i, n++);
    }
  }
  const frame = sliceFrame({ ...merged, texts: all.texts, wholes }, 0, n);
  return { frame: keepRemoved ? frame : withoutRemoved(frame), displaced };
}

/** All frames one after the other, with one list of texts, and the position of the frame that a sample came from. */
function concatenate(frames: readonly Frame[]): { all: Frame; frameOf: (index: number) => number } {
  const { texts, recode } = unionOfTexts(frames);
  const starts: number[] = [];
  let total = 0;
  for (const frame of frames) {
    starts.push(total);
    total += frame.times.length;
  }
  const all = emptyFrame(total, { origins: true });
  const wholes = frames.some((frame) => frame.wholes) ? new BigInt64Array(total) : null;
  frames.forEach((frame, f) => {
    const at = starts[f]!;
    all.times.set(frame.times, at);
    all.values.set(recode === null ? frame.values : frame.values.map((v) => recode[f]![v] ?? NaN), at);
    all.status.set(frame.status, at);
    if (frame.origins) all.origins!.set(frame.origins, at);
    if (wholes) wholes.set(frame.wholes ?? BigInt64Array.from(frame.values, toWhole), at);
  });
  const frameOf = (index: number): number => starts.findLastIndex((start) => start <= index);
  return { all: { ...all, texts, wholes }, frameOf };
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

/**
 * The positions in time order, those of one time in their own order; null when they are already strictly ascending.
 * A natural merge sort: what comes is mostly two or three ascending runs, a block and what joins it.
 */
function timeOrder(times: Float64Array): Uint32Array | null {
  let strict = true;
  const starts = [0];
  for (let i = 1; i < times.length; i++) {
    if (times[i]! <= times[i - 1]!) strict = false;
    if (times[i]! < times[i - 1]!) starts.push(i);
  }
  if (strict) return null;
  let order = Uint32Array.from(times, (_, i) => i);
  let runs = [...starts, times.length];
  while (runs.length > 2) {
    const next = new Uint32Array(order.length);
    const joined: number[] = [];
    for (let r = 0; r + 1 < runs.length; r += 2) {
      const [from, middle] = [runs[r]!, runs[r + 1]!];
      const to = runs[r + 2] ?? middle;
      joined.push(from);
      let [a, b] = [from, middle];
      for (let k = from; k < to; k++) {
        const takeFirst = a < middle && (b >= to || times[order[a]!]! <= times[order[b]!]!);
        next[k] = takeFirst ? order[a++]! : order[b++]!;
      }
    }
    joined.push(times.length);
    order = next;
    runs = joined;
  }
  return order;
}

/** What stays of a frame: everything but the samples that say "removed". */
export function withoutRemoved(frame: Frame): Frame {
  if (!frame.status.includes(REMOVED)) return frame;
  return selectSamples(frame, (i) => frame.status[i] !== REMOVED);
}

/** The samples at the positions that a test accepts; the frame itself where it accepts all. */
export function selectSamples(frame: Frame, isWanted: (index: number) => boolean): Frame {
  const length = frame.times.length;
  const kept = new Uint32Array(length);
  let count = 0;
  for (let i = 0; i < length; i++) if (isWanted(i)) kept[count++] = i;
  if (count === length) return frame;
  const at = kept.subarray(0, count);
  return {
    tags: frame.tags && picked(frame.tags, new Uint32Array(count), at),
    times: picked(frame.times, new Float64Array(count), at),
    values: picked(frame.values, new Float64Array(count), at),
    status: picked(frame.status, new Uint32Array(count), at),
    origins: frame.origins && picked(frame.origins, new Uint8Array(count), at),
    texts: frame.texts,
    wholes: frame.wholes ? picked(frame.wholes, new BigInt64Array(count), at) : null,
  };
}

/** A column at some positions. Element by element: the array's own `from` with a function takes ten times as long. */
function picked<Column extends Record<number, number | bigint>>(
  column: Column,
  into: Column,
  positions: Uint32Array,
): Column {
  for (let i = 0; i < positions.length; i++) into[i] = column[positions[i]!]!;
  return into;
}

/** The samples of one tag in an entry's frame, with the origin of the entry on each; null where it has none. */
export function partOfTag(frame: Frame, origin: number, tag: number): Frame | null {
  const tags = frame.tags;
  if (tags === null) throw new RangeError('Only a frame with a tag column can be split by tag.');
  let [first, count] = [-1, 0];
  for (let i = 0; i < tags.length; i++) {
    if (tags[i] !== tag) continue;
    if (count++ === 0) first = i;
  }
  if (count === 0) return null;
  const part = selectSamples(sliceFrame(frame, first, tags.length), (i) => tags[first + i] === tag);
  return { ...part, tags: null, origins: new Uint8Array(count).fill(origin) };
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
    const wholes = frame.wholes ? new BigInt64Array(count) : null;
    parts.set(tag, { frame: { ...part, texts: frame.texts, wholes }, filled: 0 });
  }
  for (let i = 0; i < tags.length; i++) {
    const part = parts.get(tags[i]!)!;
    part.frame.times[part.filled] = frame.times[i]!;
    part.frame.values[part.filled] = frame.values[i]!;
    part.frame.status[part.filled] = frame.status[i]!;
    if (frame.wholes) part.frame.wholes![part.filled] = frame.wholes[i]!;
    part.filled++;
  }
  return new Map([...parts].map(([tag, part]) => [tag, part.frame]));
}
