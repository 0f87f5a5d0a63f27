/** What the order in which values came tells of their stamps. Times in microseconds. */
import type { Span } from '../coverage/spans.ts';
import { joinedToFew, type Doubled, type WrongStamps } from './doubt.ts';

type StretchKind = 'backwards' | 'ahead' | 'doubled';
interface Stretch extends Span {
  readonly values: number;
  readonly most: number;
}

const joined = (one: Stretch, other: Stretch): Stretch => ({
  from: Math.min(one.from, other.from),
  to: Math.max(one.to, other.to),
  values: one.values + other.values,
  most: Math.max(one.most, other.most),
});

/** A stamp may be ahead of its arrival by so much: two clocks never agree. */
const AHEAD = 2_000_000;
/** Stretches of one tag that are remembered one by one: beyond, the nearest are joined. */
const MOST_REMEMBERED = 200;

interface TagArrival {
  /** The newest stamp so far. */
  newest: number;
  /** The last one. */
  last: number;
  readonly open: Partial<Record<StretchKind, Stretch>>;
  readonly over: Record<StretchKind, Stretch[]>;
}

/**
 * Gathers what is odd about stamps, tag by tag, from values in the order of their arrival. Each writer has an order of its
 * own: what one carries in behind another is no clock that was set back.
 */
export class ArrivalBook {
  private readonly writers = new Map<string, Map<number, TagArrival>>();

  /** @param near stretches of one tag that are not farther apart are one. */
  constructor(private readonly near: number) {}

  /** Values of one entry, in their order. @param tags of each value. @param received when it was committed. */
  take(writer: string, tags: Uint32Array, times: Float64Array, received: number): void {
    const own = this.writers.get(writer) ?? new Map<number, TagArrival>();
    this.writers.set(writer, own);
    for (let i = 0; i < times.length; i++) {
      const time = times[i]!;
      const tag = arrivalOf(own, tags[i]!);
      if (time > received + AHEAD) this.note(tag, 'ahead', time, time, time - received);
      if (time === tag.last) this.note(tag, 'doubled', time, time, 0);
      else if (time < tag.newest) this.note(tag, 'backwards', time, tag.newest, tag.newest - time);
      tag.last = time;
      tag.newest = Math.max(tag.newest, time);
    }
  }

  /** Each tag's doubts, those that have any. */
  finish(): Map<number, (WrongStamps | Doubled)[]> {
    const found = new Map<number, (WrongStamps | Doubled)[]>();
    for (const own of this.writers.values())
      for (const [tag, arrival] of own) {
        const doubts = doubtsOf(arrival);
        if (doubts.length > 0) found.set(tag, [...(found.get(tag) ?? []), ...doubts]);
      }
    return found;
  }

  private note({ open, over }: TagArrival, kind: StretchKind, from: number, to: number, most: number): void {
    const known = open[kind];
    if (known && from - known.to <= this.near && known.from - to <= this.near) {
      open[kind] = joined(known, { from, to, values: 1, most });
      return;
    }
    if (known) {
      over[kind].push(known);
      if (over[kind].length > MOST_REMEMBERED) over[kind] = joinedToFew(over[kind], joined, MOST_REMEMBERED / 2);
    }
    open[kind] = { from, to, values: 1, most };
  }
}

function arrivalOf(tags: Map<number, TagArrival>, number: number): TagArrival {
  let tag = tags.get(number);
  if (!tag) {
    tag = { newest: -Infinity, last: -Infinity, open: {}, over: { backwards: [], ahead: [], doubled: [] } };
    tags.set(number, tag);
  }
  return tag;
}

function doubtsOf({ open, over }: TagArrival): (WrongStamps | Doubled)[] {
  const of = (kind: StretchKind): Stretch[] =>
    joinedToFew([...over[kind], ...(open[kind] ? [open[kind]] : [])], joined);
  return [
    ...(['backwards', 'ahead'] as const).flatMap((kind) => of(kind).map((one) => ({ kind, ...one }))),
    ...of('doubled').map(({ from, to, values }) => ({ kind: 'doubled' as const, from, to, values, differing: false })),
  ];
}

/** Stretches of times that had two values. @param times ascending. @param near times that are not farther apart are of one stretch. */
export function doubledAt(times: readonly number[], near: number): Doubled[] {
  const found: Doubled[] = [];
  for (const time of times) {
    const last = found.at(-1);
    if (last && time - last.to <= near) found[found.length - 1] = { ...last, to: time, values: last.values + 1 };
    else found.push({ kind: 'doubled', from: time, to: time, values: 1, differing: true });
  }
  return joinedToFew(found, (one, { to, values }) => ({ ...one, to, values: one.values + values }));
}
