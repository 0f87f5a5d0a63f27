/**
 * Deriving: what formulas give is computed as the samples come of which they are computed, in the order of dependence.
 *
 * What is new is computed once every input has told of a moment, or a second later, held from what was told last. What came
 * late, was corrected or removed has everything computed again that it may change; of that, what differs is written, and
 * what stood before goes to the modified history. The same journal gives the same values, however often it is gone through.
 */
import {
  derive,
  derivedDifference,
  emptyFrame,
  firstAtOrAfter,
  fitted,
  splitByTag,
  decodeFrame,
  touchedUntil,
  type Frame,
  type Span,
} from '@wide-ledger/core';
import { standingOf } from '../reading/standingOfMany.ts';
import type { Stores } from '../stores/stores.ts';
import type { DerivedTag, DerivedTags, StoredTag } from './derivedTags.ts';
import { DERIVED_WRITER, type DerivedValues } from './derivedValues.ts';
import { samplesAround, timesBehind } from './histories.ts';
import { computePiece, computeStretch, type Piece, type Samples } from './past.ts';
import { Recent } from './recent.ts';

/** So long an input is waited for that has not told of a moment yet, of which others have. */
const PATIENCE_MILLISECONDS = 1000;
/** Samples of one input that lie farther apart than this are dealt with one after the other. Microseconds. */
const APART = 3_600_000_000;
/** More stretches of one input than these are dealt with as one. */
const MOST_STRETCHES = 50;
/** At the beginning so much of the past is fetched into memory. Microseconds. */
const BEGINS_WITH = 120_000_000;
/** Tags whose samples are fetched at a time. */
const TAGS_AT_ONCE = 500;

/** An entry of the journal, as far as deriving looks at it. */
export interface SeenEntry {
  readonly writer: string;
  readonly origin: number;
  readonly frame: Uint8Array | null;
  /** The tags of an entry that ends before all that can matter by itself; null for the others. */
  readonly old: readonly number[] | null;
}

/** Where values go as they are computed. */
export type Take = (values: DerivedValues) => Promise<void>;

export class Deriver {
  private readonly recent = new Map<number, Recent>();
  /** Up to when each derived tag is computed. Microseconds. */
  private readonly done = new Map<number, number>();
  /** Since when something has waited for another input. Milliseconds. */
  private readonly waiting = new Map<number, number>();

  /** Since when a tag's past has been computed, as far as that was seen here. Microseconds. */
  private readonly since = new Map<number, number>();
  private kept: ReadonlyMap<number, number> = new Map();

  private constructor(
    private readonly stores: Stores,
    private tags: DerivedTags,
    private readonly now: () => number,
  ) {}

  /** @param now a clock that does not jump, milliseconds */
  static async begin(stores: Stores, tags: DerivedTags, now: () => number, time: number): Promise<Deriver> {
    const deriver = new Deriver(stores, tags, now);
    await deriver.remember(tags, time);
    return deriver;
  }

  /** Goes on under another configuration. What is new in it begins with its inputs' next values. @param time microseconds */
  async follow(tags: DerivedTags, time: number): Promise<void> {
    this.tags = tags;
    await this.remember(tags, time);
  }

  private async remember({ all, inputs }: DerivedTags, time: number): Promise<void> {
    const wanted = new Map<number, StoredTag>([...inputs, ...all.map((tag) => [tag.id, tag] as const)]);
    for (const id of this.recent.keys()) if (!wanted.has(id)) this.recent.delete(id);
    const missing = [...wanted.values()].filter(({ id }) => !this.recent.has(id));
    const from = time - BEGINS_WITH;
    for (let at = 0; at < missing.length; at += TAGS_AT_ONCE) {
      const some = missing.slice(at, at + TAGS_AT_ONCE);
      const found = await samplesAround(this.stores, some, { from, to: Number.MAX_SAFE_INTEGER });
      for (const { id } of some) {
        const frame = found.get(id)!;
        const recent = new Recent(firstAtOrAfter(frame.times, from) < 2 ? -Infinity : frame.times[0]!);
        recent.absorb(frame);
        this.recent.set(id, recent);
      }
    }
    for (const tag of all)
      if (!this.done.has(tag.id)) this.done.set(tag.id, Math.max(this.recent.get(tag.id)!.head, tag.since - 1));
    for (const id of this.done.keys()) if (!wanted.has(id)) this.done.delete(id);
  }

  /** The tags whose samples it looks at. */
  get watched(): Iterable<number> {
    return this.recent.keys();
  }

  /** Whether something waits for an input that has not told of the same moment yet. */
  get waits(): boolean {
    return this.waiting.size > 0;
  }

  /** What lies before is of no use by itself: nothing begins there, and what is held at the beginning is looked up. Microseconds. */
  get horizon(): number {
    return Math.min(...this.tags.all.map((tag) => this.beginOf(tag))) - APART;
  }

  /** Looks at entries in the journal's order, and computes what comes of them. */
  async take(entries: readonly SeenEntry[], take: Take): Promise<void> {
    const touched = this.absorb(entries);
    const old = this.passOver(entries);
    for (const tag of this.tags.all) {
      const pass = async (frame: Frame | null, again: boolean): Promise<void> => {
        if (!frame || frame.times.length === 0) return;
        await take({ tag: tag.id, frame, again });
        this.feed(tag.id, frame, touched);
      };
      for (const span of await this.spansAgain(tag, touched, old)) await this.again(tag, span, pass);
      await this.goOn(tag, pass);
    }
  }

  private absorb(entries: readonly SeenEntry[]): Map<number, Float64Array> {
    const touched = new Map<number, Float64Array>();
    for (const { writer, origin, frame } of entries) {
      // What was computed here was taken in when it was.
      if (!frame || writer === DERIVED_WRITER) continue;
      for (const [tag, part] of splitByTag(decodeFrame(frame), origin))
        if (this.recent.has(tag)) this.feed(tag, part, touched);
    }
    return touched;
  }

  /** Of entries that were not opened: which tags have something there that is not in memory. */
  private passOver(entries: readonly SeenEntry[]): ReadonlySet<number> {
    const old = new Set(entries.flatMap((entry) => entry.old ?? []).filter((tag) => this.recent.has(tag)));
    for (const tag of old) this.recent.get(tag)!.forgetBefore(this.horizon);
    return old;
  }

  private feed(tag: number, frame: Frame, touched: Map<number, Float64Array>): void {
    this.recent
      .get(tag)
      ?.absorb({ ...frame, tags: null, origins: frame.origins ?? new Uint8Array(frame.times.length) });
    const known = touched.get(tag);
    touched.set(tag, known ? Float64Array.from([...known, ...frame.times]).sort() : frame.times.slice().sort());
  }

  /** The stretches of what is computed already that samples which have just come may change. */
  private async spansAgain(
    tag: DerivedTag,
    touched: ReadonlyMap<number, Float64Array>,
    old: ReadonlySet<number>,
  ): Promise<Span[]> {
    const done = this.done.get(tag.id)!;
    const spans: Span[] = [];
    for (const input of tag.inputs) {
      const begin = this.beginOf(tag);
      // Of what is older only the last two can be looked at, until there are others.
      if (old.has(input.id) && begin <= done)
        spans.push({ from: begin, to: Math.min(await this.changesUntil(input, begin - 1, done), done + 1) });
      const times = touched.get(input.id)?.filter((time) => time <= done) ?? new Float64Array();
      for (const { from, to } of stretchesOf(times))
        spans.push({
          from: Math.max(from, begin),
          to: Math.min(await this.changesUntil(input, to, done), done + 1),
        });
    }
    return joined(spans.filter(({ from, to }) => from < to));
  }

  /** What lies before what its inputs keep is as it was computed when they were there. */
  private beginOf({ id, since, inputs }: DerivedTag): number {
    const kept = inputs.map(({ storeId }) => this.kept.get(storeId) ?? -Infinity);
    return Math.max(Math.min(since, this.since.get(id) ?? Infinity), ...kept);
  }

  /** Since when the stores keep what they hold. Microseconds. */
  keep(kept: ReadonlyMap<number, number>): void {
    this.kept = kept;
  }

  private async changesUntil(input: StoredTag, time: number, done: number): Promise<number> {
    const recent = this.recent.get(input.id)!;
    if (recent.holds(time)) return touchedUntil(recent.samples.times, time);
    const behind = await timesBehind(this.stores, input, time, done + 1);
    return touchedUntil(behind, time);
  }

  private async again(tag: DerivedTag, span: Span, pass: Pass): Promise<void> {
    const own = this.recent.get(tag.id)!;
    if (this.covers(tag, span.from) && own.holds(span.from)) {
      const wanted = this.compute(tag, span);
      await pass(derivedDifference(own.between(span.from, span.to), wanted), true);
      return;
    }
    for await (const frame of computeStretch(this.samples, tag, span)) await pass(frame, true);
  }

  /** What has not been computed yet, as far as every input has told of it, or has been waited for. */
  private async goOn(tag: DerivedTag, pass: Pass): Promise<void> {
    const done = this.done.get(tag.id)!;
    const heads = tag.inputs.map(({ id }) => this.recent.get(id)!.head);
    const newest = Math.max(...heads);
    if (newest <= done) {
      this.waiting.delete(tag.id);
      return;
    }
    let until = Math.min(...heads);
    if (until < newest) {
      const since = this.waiting.get(tag.id) ?? this.now();
      if (this.now() - since >= PATIENCE_MILLISECONDS) until = newest;
      if (until < newest) this.waiting.set(tag.id, since);
    }
    if (until === newest) this.waiting.delete(tag.id);
    if (until <= done) return;
    const span = { from: done + 1, to: until + 1 };
    this.done.set(tag.id, until);
    if (this.covers(tag, span.from)) await pass(this.compute(tag, span), false);
    else for await (const frame of computeStretch(this.samples, tag, span)) await pass(frame, false);
  }

  /** The archive, and beyond what it may show already what has gone by here: nothing of a moment to come, nothing unwritten missed. */
  private readonly samples: Samples = {
    around: async (tags, window) => {
      const found = await samplesAround(this.stores, tags, window);
      return new Map(tags.map(({ id }) => [id, this.recent.get(id)!.completing(found.get(id)!, window.to)]));
    },
    standing: async (tag, window) => {
      const found = (await standingOf(this.stores, tag, window)) ?? emptyFrame(0, { origins: true });
      return this.recent.get(tag.id)!.completing(found, window.to, window.from);
    },
  };

  /** A piece of the past of one tag, computed anew; undefined where it is not derived. */
  past(tag: number, window: Span): Promise<Piece> | undefined {
    const derived = this.tags.all.find(({ id }) => id === tag);
    if (!derived) return undefined;
    // From now on what comes late there is computed again, too.
    this.since.set(tag, Math.min(this.since.get(tag) ?? derived.since, window.from));
    const from = Math.max(window.from, this.beginOf(derived));
    if (from >= window.to) return Promise.resolve({ frame: null, samples: 0 });
    return computePiece(this.samples, derived, { from, to: window.to });
  }

  private covers(tag: DerivedTag, from: number): boolean {
    return tag.inputs.every(({ id }) => this.recent.get(id)!.covers(from));
  }

  private compute(tag: DerivedTag, span: Span): Frame {
    const inputs = tag.inputs.map(({ id }) => this.recent.get(id)!.samples);
    return fitted(tag, derive(tag.formula, inputs, span));
  }
}

type Pass = (frame: Frame | null, again: boolean) => Promise<void>;

/** Times that lie near each other, as stretches from the first to the last. @param times ascending */
function stretchesOf(times: Float64Array): Span[] {
  const stretches: { from: number; to: number }[] = [];
  for (const time of times) {
    const last = stretches.at(-1);
    if (last && (time - last.to <= APART || stretches.length >= MOST_STRETCHES)) last.to = time;
    else stretches.push({ from: time, to: time });
  }
  return stretches;
}

/** Spans that touch or overlap as one, in ascending order. */
function joined(spans: readonly Span[]): Span[] {
  const all: { from: number; to: number }[] = [];
  for (const { from, to } of spans.toSorted((a, b) => a.from - b.from)) {
    const last = all.at(-1);
    if (last && from <= last.to) last.to = Math.max(last.to, to);
    else all.push({ from, to });
  }
  return all;
}
