/** Totals of counters that wrap at a roll-over value, or were reset. */
import { spread } from '../aggregates/spread.ts';
import type { Columns } from '../aggregates/series.ts';
import { Status, isGood } from '../status/codes.ts';

export interface CounterTotal {
  /** In the counter's unit; NaN where nothing is known. */
  readonly value: number;
  readonly status: number;
  readonly wraps: number;
  readonly resets: number;
}

export type CounterStep = 'count' | 'wrap' | 'reset';

/**
 * What a counter did from one reading to the next, and how much it counted.
 *
 * A lower reading is a wrap where the way over the roll-over value is shorter than half a turn; otherwise it is a
 * reset, after which the reading is what was counted since: what was counted before the reset is lost, so the total is
 * Uncertain. Without a roll-over value every lower reading is a reset. (Common practice, no source.)
 */
export function counterStep(
  before: number,
  after: number,
  rollOver: number | null,
): { readonly step: CounterStep; readonly counted: number } {
  if (after >= before) return { step: 'count', counted: after - before };
  const around = rollOver === null ? Infinity : rollOver - before + after;
  if (rollOver !== null && around >= 0 && around < rollOver / 2) return { step: 'wrap', counted: around };
  return { step: 'reset', counted: after };
}

/**
 * Totals over adjoining intervals while readings pass by in ascending time. What is counted between two readings is
 * spread evenly over the time between them; readings that are not Good are passed over, and the status then is
 * Uncertain_DataSubNormal, as after a reset. An interval that the readings do not cover throughout is Partial in value
 * and Uncertain too; one without any is Bad_NoData.
 */
export class CounterPass {
  private readonly totals: { value: number; covered: number; doubtful: boolean; wraps: number; resets: number }[];
  private last: { time: number; value: number } | null = null;
  private skipped = false;

  /** @param edges of the intervals, ascending, in microseconds. @param rollOver the value that is never shown: 65536. */
  constructor(
    private readonly edges: Float64Array,
    private readonly rollOver: number | null,
  ) {
    this.totals = Array.from({ length: edges.length - 1 }, () => ({
      value: 0,
      covered: 0,
      doubtful: false,
      wraps: 0,
      resets: 0,
    }));
  }

  take({ times, values, status }: Columns): void {
    for (let i = 0; i < times.length; i++) {
      if (!isGood(status[i]!) || Number.isNaN(values[i]!)) {
        this.skipped = true;
        continue;
      }
      this.meet(times[i]!, values[i]!);
    }
  }

  private meet(time: number, value: number): void {
    const { last, skipped } = this;
    this.last = { time, value };
    this.skipped = false;
    if (last === null) return;
    const { step, counted } = counterStep(last.value, value, this.rollOver);
    spread(this.edges, last.time, time, (index, begin, end) => {
      const total = this.totals[index]!;
      total.value += (counted * (end - begin)) / (time - last.time);
      total.covered += end - begin;
      total.doubtful ||= skipped || step === 'reset';
      // It is counted where the lower reading lies, or where the window ends before it.
      if (end === time || index === this.totals.length - 1) {
        if (step === 'wrap') total.wraps++;
        if (step === 'reset') total.resets++;
      }
    });
  }

  finish(): CounterTotal[] {
    return this.totals.map(({ value, covered, doubtful, wraps, resets }, i) => {
      if (covered === 0) return { value: NaN, status: Status.BadNoData, wraps, resets };
      const whole = covered === this.edges[i + 1]! - this.edges[i]!;
      const status = whole && !doubtful ? Status.Good : Status.UncertainDataSubNormal;
      return { value, status, wraps, resets };
    });
  }
}
