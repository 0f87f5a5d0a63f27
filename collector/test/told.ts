/** A listener that remembers what a source told by itself. */
import type { Span } from '@wide-ledger/core';
import type { Listener, Sample, SourceAway } from '../src/index.ts';

/** Listens until something is true of what was told; fails by the test's time limit. */
export class Told implements Listener {
  readonly samples: Sample[] = [];
  readonly overflows: { tag: number; lost: Span | null }[] = [];
  heards = 0;
  error: SourceAway | null = null;
  private look: () => void = () => undefined;
  changed(samples: readonly Sample[]): void {
    this.samples.push(...samples);
    this.look();
  }
  heard(): void {
    this.heards++;
    this.look();
  }
  overflowed(tag: number, lost: Span | null): void {
    this.overflows.push({ tag, lost });
    this.look();
  }
  lost(error: SourceAway): void {
    this.error = error;
    this.look();
  }
  /** Tests have no disk: what was told is kept. */
  kept(): Promise<void> {
    return Promise.resolve();
  }
  until(check: () => boolean): Promise<void> {
    return new Promise((done) => {
      this.look = () => check() && done();
      this.look();
    });
  }
  of = (id: number): Sample[] => this.samples.filter((sample) => sample.tag === id);
}
