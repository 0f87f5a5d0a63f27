/** Totals of counters that wrap at a roll-over value, or were reset. */
import { spread } from '../aggregates/spread.ts';
import type { Columns } from '../aggregates/series.ts';
import { wholeAt } from '../frame/frame.ts';
import { Status, isGood } from '../status/codes.ts';

export interface CounterTotal {
  /** In the counter's unit; NaN where nothing is known. */
  readonly value: number;
  readonly status: number;
  readonly wraps: number;
  readonly resets: number;
}

export type CounterStep = 'count' | 'wrap' | 'reset';

/** What is known of a counter. */
export interface CounterNature {
  /** The value that it never shows, after which it starts over: 65536; null: it does not start over. */
  readonly rollOver: number | null;
  /** The most that it plausibly counts between two readings; null: it is judged by what it was seen to count. */
  readonly largestStep: number | null;
}

/**
 * What a counter did from one reading to the next, and how much it counted, in its unit.
 *
 * A lower reading is a wrap where there is a roll-over value and the way over it is no longer than the largest plausible
 * step. Otherwise it is a reset, after which the reading is what was counted since: what was counted before the reset
 * is lost, so the total is Uncertain. Without a roll-over value every lower reading is a reset.
 * (Common practice, no source.)
 * @param change the second reading minus the first. @param after the second reading.
 * @param around what the readings mean if the counter wrapped: from the first up to the roll-over, then to the second.
 * @param largestStep in the counter's unit; Infinity: any step is plausible.
 */
export function counterStep(
  change: number,
  after: number,
  around: number | null,
  largestStep: number,
): { readonly step: CounterStep; readonly counted: number } {
  if (change >= 0) return { step: 'count', counted: change };
  if (around !== null && around >= 0 && around <= largestStep) return { step: 'wrap', counted: around };
  return { step: 'reset', counted: after };
}

/** A step of so many times the fastest counting seen before is still plausible, where nobody says what is. */
const GENEROSITY = 100;

interface Reading {
  readonly time: number;
  readonly value: number;
  /** All its digits, where a double does not hold them. */
  readonly whole: bigint | null;
}

/** `to` minus `from`: exact, also where a double does not hold the readings. */
const difference = (from: Reading, to: Reading): number =>
  from.whole !== null && to.whole !== null ? Number(to.whole - from.whole) : to.value - from.value;

/**
 * Totals over adjoining intervals while readings pass by in ascending time. What is counted between two readings is
 * spread evenly over the time between them; readings that are not Good are passed over, and the status then is
 * Uncertain_DataSubNormal, as after a reset. An interval that the readings do not cover throughout is Partial in value
 * and Uncertain too; one without any is Bad_NoData.
 *
 * Where the largest plausible step is not given, it is a hundred times the fastest counting that was seen before, over
 * the time between the two readings; before anything was seen to be counted, any step is plausible.
 */
export class CounterPass {
  private readonly totals: { value: number; covered: number; doubtful: boolean; wraps: number; resets: number }[];
  private last: Reading | null = null;
  private skipped = false;
  /** The fastest counting between two readings so far, in units per microsecond. */
  private fastest = 0;

  /** @param edges of the intervals, ascending, in microseconds. */
  constructor(
    private readonly edges: Float64Array,
    private readonly nature: CounterNature,
  ) {
    this.totals = Array.from({ length: edges.length - 1 }, () => ({
      value: 0,
      covered: 0,
      doubtful: false,
      wraps: 0,
      resets: 0,
    }));
  }

  /** @param wholes the 64-bit integers beside the values, where a double does not hold them. */
  take({ times, values, status }: Columns, wholes: BigInt64Array | null = null): void {
    for (let i = 0; i < times.length; i++) {
      if (!isGood(status[i]!) || Number.isNaN(values[i]!)) {
        this.skipped = true;
        continue;
      }
      const value = values[i]!;
      const whole = Number.isSafeInteger(value) ? BigInt(value) : wholeAt({ values, wholes }, i);
      this.meet({ time: times[i]!, value, whole });
    }
  }

  private plausible(duration: number): number {
    const { largestStep } = this.nature;
    if (largestStep !== null) return largestStep;
    return this.fastest > 0 ? GENEROSITY * this.fastest * duration : Infinity;
  }

  private meet(reading: Reading): void {
    const { last, skipped } = this;
    this.last = reading;
    this.skipped = false;
    if (last === null) return;
    const duration = reading.time - last.time;
    const change = difference(last, reading);
    const { rollOver } = this.nature;
    const around = rollOver === null ? null : rollOver + change;
    const { step, counted } = counterStep(change, reading.value, around, this.plausible(duration));
    if (step !== 'reset') this.fastest = Math.max(this.fastest, counted / duration);
    spread(this.edges, last.time, reading.time, (index, begin, end) => {
      const total = this.totals[index]!;
      total.value += (counted * (end - begin)) / duration;
      total.covered += end - begin;
      total.doubtful ||= skipped || step === 'reset';
      // It is counted where the lower reading lies, or where the window ends before it.
      if (end === reading.time || index === this.totals.length - 1) {
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
