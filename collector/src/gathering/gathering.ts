/** Samples, watches and outages on their way into the next entry. */
import type { OutageSpan, RecoverySpan, WatchSpan } from '@wide-ledger/contract';
import type { Frame } from '@wide-ledger/core';
import type { Value } from '../kinds/kind.ts';
import { Columns, valueAt } from './columns.ts';

/** What was gathered, on its way to the spool. */
export interface Gathered {
  /** Numbers, and texts: a frame holds either. */
  readonly frames: readonly Frame[];
  readonly watches: readonly WatchSpan[];
  readonly outages: readonly OutageSpan[];
  readonly recoveries: readonly RecoverySpan[];
}

/** What was read and watched since it was last handed over, in memory. Spans begin and end at whole microseconds. */
export class Gathering {
  private numbers = new Columns();
  private texts = new Columns();
  private watches: WatchSpan[] = [];
  private outages: OutageSpan[] = [];
  private recoveries: RecoverySpan[] = [];

  /** @param time microseconds since 1970. @param status 32-bit status code. */
  sample(tag: number, time: number, value: Value, status: number): void {
    (typeof value === 'string' ? this.texts : this.numbers).add(tag, Math.round(time), value, status);
  }

  /** A span in which a source, or a tag, was watched; one that goes on from the last is joined to it. */
  watch(given: WatchSpan): void {
    const span = { ...given, from: Math.round(given.from), to: Math.round(given.to) };
    const last = this.watches.find(
      (one) => one.source === span.source && one.version === span.version && one.to === span.from,
    );
    if (last) this.watches[this.watches.indexOf(last)] = { ...last, to: span.to };
    else this.watches.push(span);
  }

  /** A span in which it was not, with its cause; the same one told again, grown longer, takes the place of the first. */
  outage(given: OutageSpan): void {
    const span = { ...given, from: Math.round(given.from), to: given.to === null ? null : Math.round(given.to) };
    this.outages = this.outages.filter(
      (one) => one.source !== span.source || one.tag !== span.tag || one.from !== span.from,
    );
    this.outages.push(span);
  }

  /** How it stands with a stretch that was missed. */
  recovery(span: RecoverySpan): void {
    this.recoveries.push(span);
  }

  get size(): number {
    return this.numbers.length + this.texts.length;
  }

  get isEmpty(): boolean {
    return this.size + this.watches.length + this.outages.length + this.recoveries.length === 0;
  }

  /** Takes in what was gathered elsewhere, as what came last. */
  add({ frames, watches, outages, recoveries }: Gathered): void {
    for (const frame of frames)
      frame.times.forEach((time, i) => this.sample(frame.tags![i]!, time, valueAt(frame, i), frame.status[i]!));
    for (const span of watches) this.watch(span);
    for (const span of outages) this.outage(span);
    this.recoveries.push(...recoveries);
  }

  /** Takes back what could not be written, as if it had not been handed over: before what was gathered since. */
  putBack(gathered: Gathered): void {
    const since = this.take();
    this.add(gathered);
    this.add(since);
  }

  /**
   * Lets go of what is held, where it is more than memory can hold: what was watched is then told as not watched.
   * @param recoverable whether a source may still have what is let go.
   * @returns how many samples are lost, and the spans of the sources that they were of.
   */
  letGo(sentence: string, recoverable: (source: number) => boolean): { lost: number; watches: readonly WatchSpan[] } {
    const { frames, watches, outages, recoveries } = this.take();
    for (const span of outages) this.outage(span);
    for (const span of recoveries) this.recovery(span);
    const why = { cause: 'collector', sentence, code: 'ENOSPC', within: false } as const;
    for (const { source, from, to } of watches)
      this.outage({ source, tag: null, from, to, ...why, recoverable: recoverable(source) });
    return { lost: frames.reduce((sum, { times }) => sum + times.length, 0), watches };
  }

  /** Hands over everything gathered and starts anew. */
  take(): Gathered {
    const { numbers, texts, watches, outages, recoveries } = this;
    [this.numbers, this.texts] = [new Columns(), new Columns()];
    [this.watches, this.outages, this.recoveries] = [[], [], []];
    const frames = [numbers.frame(), texts.frame()].filter((frame) => frame !== null);
    return { frames, watches, outages, recoveries };
  }
}
