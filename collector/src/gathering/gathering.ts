/** Samples, watches and outages on their way into the next entry. */
import type { OutageSpan, WatchSpan } from '@wide-ledger/contract';
import type { Frame } from '@wide-ledger/core';
import type { Value } from '../kinds/kind.ts';
import { Columns, valueAt } from './columns.ts';

/** What was gathered, on its way to the spool. */
export interface Gathered {
  /** Numbers, and texts: a frame holds either. */
  readonly frames: readonly Frame[];
  readonly watches: readonly WatchSpan[];
  readonly outages: readonly OutageSpan[];
}

/** What was read and watched since it was last handed over, in memory. */
export class Gathering {
  private numbers = new Columns();
  private texts = new Columns();
  private watches: WatchSpan[] = [];
  private outages: OutageSpan[] = [];

  /** @param time microseconds since 1970. @param status 32-bit status code. */
  sample(tag: number, time: number, value: Value, status: number): void {
    (typeof value === 'string' ? this.texts : this.numbers).add(tag, time, value, status);
  }

  /** A span in which a source, or a tag, was watched; one that goes on from the last is joined to it. */
  watch(span: WatchSpan): void {
    const last = this.watches.find(
      (one) => one.source === span.source && one.version === span.version && one.to === span.from,
    );
    if (last) this.watches[this.watches.indexOf(last)] = { ...last, to: span.to };
    else this.watches.push(span);
  }

  /** A span in which it was not, with its cause; the same one told again, grown longer, takes the place of the first. */
  outage(span: OutageSpan): void {
    this.outages = this.outages.filter(
      (one) => one.source !== span.source || one.tag !== span.tag || one.from !== span.from,
    );
    this.outages.push(span);
  }

  get size(): number {
    return this.numbers.length + this.texts.length;
  }

  get isEmpty(): boolean {
    return this.size + this.watches.length + this.outages.length === 0;
  }

  /** Takes back what could not be written, as if it had not been handed over: before what was gathered since. */
  putBack({ frames, watches, outages }: Gathered): void {
    const since = this.take();
    for (const frame of [...frames, ...since.frames]) {
      frame.times.forEach((time, i) => this.sample(frame.tags![i]!, time, valueAt(frame, i), frame.status[i]!));
    }
    for (const span of [...watches, ...since.watches]) this.watch(span);
    for (const span of [...outages, ...since.outages]) this.outage(span);
  }

  /**
   * Lets go of what is held, where it is more than memory can hold: what was watched is then told as not watched.
   * @returns how many samples are lost.
   */
  letGo(sentence: string): number {
    const { frames, watches, outages } = this.take();
    for (const span of outages) this.outage(span);
    for (const { source, from, to } of watches) {
      this.outage({
        source,
        tag: null,
        from,
        to,
        cause: 'collector',
        sentence,
        code: 'ENOSPC',
        recoverable: false,
        within: false,
      });
    }
    return frames.reduce((sum, { times }) => sum + times.length, 0);
  }

  /** Hands over everything gathered and starts anew. */
  take(): Gathered {
    const { numbers, texts, watches, outages } = this;
    [this.numbers, this.texts, this.watches, this.outages] = [new Columns(), new Columns(), [], []];
    return { frames: [numbers.frame(), texts.frame()].filter((frame) => frame !== null), watches, outages };
  }
}
