/** How punctual reads are: the newest few hundred of each interval. */
import type { SourceState } from '@wide-ledger/contract';

const KEPT = 1000;

/** How late reads start and how long they take: the last thousand, in milliseconds. */
export class Timing {
  private readonly lateness: number[] = [];
  private readonly durations: number[] = [];
  private reads = 0;
  missed = 0;

  /** @param late milliseconds between due and start. @param duration milliseconds from start to answer. */
  note(late: number, duration: number): void {
    this.lateness[this.reads % KEPT] = late;
    this.durations[this.reads % KEPT] = duration;
    this.reads++;
  }

  get summary(): SourceState['timing'][string] {
    return {
      reads: this.reads,
      jitterMedian: quantile(this.lateness, 0.5),
      jitter99: quantile(this.lateness, 0.99),
      durationMedian: quantile(this.durations, 0.5),
      duration99: quantile(this.durations, 0.99),
      missed: this.missed,
    };
  }
}

/** What a share of the values is at most; 0 of none. Rounded to hundredths. */
export function quantile(values: readonly number[], share: number): number {
  if (values.length === 0) return 0;
  const sorted = [...values].sort((a, b) => a - b);
  return Math.round(sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]! * 100) / 100;
}
