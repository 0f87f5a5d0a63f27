/** What passes between a collector and a source, per second. */
import type { Traffic } from '../kinds/kind.ts';

const SHORTEST_SECONDS = 0.9;

/** Turns a connection's counts into rates, from one look to the next. */
export class TrafficMeter {
  private before: { readonly at: number; readonly counts: Traffic } | null = null;
  private rates: { requestsPerSecond: number; bytesPerSecond: number } | null = null;

  /** @param counts since the connection was opened; null while there is none, or where the kind does not count. */
  perSecond(counts: Traffic | null, now = performance.now()): TrafficMeter['rates'] {
    const { before } = this;
    if (!counts || (before && counts.requests < before.counts.requests)) {
      // Another connection counts from the beginning.
      this.before = counts && { at: now, counts };
      this.rates = null;
      return null;
    }
    const seconds = before ? (now - before.at) / 1000 : 0;
    if (before && seconds < SHORTEST_SECONDS) return this.rates;
    if (before) {
      this.rates = {
        requestsPerSecond: Math.round((10 * (counts.requests - before.counts.requests)) / seconds) / 10,
        bytesPerSecond: Math.round((counts.bytes - before.counts.bytes) / seconds),
      };
    }
    this.before = { at: now, counts };
    return this.rates;
  }
}
