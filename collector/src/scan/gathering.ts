/** Samples, watches and outages on their way into the next entry. */
import type { OutageSpan, WatchSpan } from '@wide-ledger/contract';
import { emptyFrame, type Frame } from '@wide-ledger/core';

/** What was gathered, on its way to the spool. */
export interface Gathered {
  readonly frame: Frame | null;
  readonly watches: readonly WatchSpan[];
  readonly outages: readonly OutageSpan[];
}

/** What was read and watched since it was last handed over, in memory. */
export class Gathering {
  private tags: number[] = [];
  private times: number[] = [];
  private values: number[] = [];
  private status: number[] = [];
  private watches: WatchSpan[] = [];
  private outages: OutageSpan[] = [];

  /** @param time microseconds since 1970. @param status 32-bit status code. */
  sample(tag: number, time: number, value: number, status: number): void {
    this.tags.push(tag);
    this.times.push(time);
    this.values.push(value);
    this.status.push(status);
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
    return this.tags.length;
  }

  get isEmpty(): boolean {
    return this.tags.length + this.watches.length + this.outages.length === 0;
  }

  /** Takes back what could not be written, as if it had not been handed over: before what was gathered since. */
  putBack({ frame, watches, outages }: Gathered): void {
    const since = this.take();
    for (const one of [frame, since.frame]) {
      one?.times.forEach((time, i) => this.sample(one.tags![i]!, time, one.values[i]!, one.status[i]!));
    }
    for (const span of [...watches, ...since.watches]) this.watch(span);
    for (const span of [...outages, ...since.outages]) this.outage(span);
  }

  /**
   * Lets go of what is held, where it is more than memory can hold: what was watched is then told as not watched.
   * @returns how many samples are lost.
   */
  letGo(sentence: string): number {
    const { frame, watches, outages } = this.take();
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
    return frame?.times.length ?? 0;
  }

  /** Hands over everything gathered and starts anew. Samples stand by tag, then time: alike stays together. */
  take(): Gathered {
    const { tags, times, values, status, watches, outages } = this;
    [this.tags, this.times, this.values, this.status, this.watches, this.outages] = [[], [], [], [], [], []];
    if (tags.length === 0) return { frame: null, watches, outages };
    const order = Uint32Array.from(tags.keys()).sort((a, b) => tags[a]! - tags[b]! || times[a]! - times[b]!);
    const frame = emptyFrame(tags.length, { tags: true });
    order.forEach((from, to) => {
      frame.tags![to] = tags[from]!;
      frame.times[to] = times[from]!;
      frame.values[to] = values[from]!;
      frame.status[to] = status[from]!;
    });
    return { frame, watches, outages };
  }
}
