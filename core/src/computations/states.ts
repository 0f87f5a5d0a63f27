/** How long each state lasted and how often it began. */
import { firstAtOrAfter, type Columns } from '../aggregates/series.ts';
import { spread } from '../aggregates/spread.ts';
import { isBad, isGood } from '../status/codes.ts';

export interface StateSpan {
  /** Microseconds for which it lasted, and how many of them began at an Uncertain sample. */
  readonly time: number;
  readonly uncertain: number;
  /** How often it began: changes into it, not its being there when the interval began. */
  readonly starts: number;
}

export interface StateTimes {
  readonly states: ReadonlyMap<number, StateSpan>;
  /** Microseconds in which the state is known for sure, is Uncertain, and is not known. Together the interval. */
  readonly good: number;
  readonly uncertain: number;
  readonly unknown: number;
  /** Share of the known time, Good or Uncertain, in which it was not zero, in percent; NaN where nothing is known. */
  readonly onPercent: number;
}

/** Gathers state times over adjoining intervals while samples pass by in ascending time; a state holds until the next. */
export class StatePass {
  private readonly states: Map<number, { time: number; uncertain: number; starts: number }>[];
  private last: { time: number; value: number; status: number } | null = null;
  /** The last known state: an outage between two samples of one state is no start. */
  private known = NaN;

  /** @param edges of the intervals, ascending, in microseconds. */
  constructor(private readonly edges: Float64Array) {
    this.states = Array.from(
      { length: edges.length - 1 },
      () => new Map<number, { time: number; uncertain: number; starts: number }>(),
    );
  }

  take({ times, values, status }: Columns): void {
    for (let i = 0; i < times.length; i++) {
      const [time, value] = [times[i]!, values[i]!];
      this.holdUntil(time);
      if (!isUnknown(value, status[i]!) && value !== this.known) this.start(time, value);
      this.last = { time, value, status: status[i]! };
    }
  }

  private holdUntil(time: number): void {
    const { last } = this;
    if (last === null || isUnknown(last.value, last.status)) return;
    spread(this.edges, last.time, time, (index, begin, end) => {
      const span = this.spanOf(index, last.value);
      span.time += end - begin;
      if (!isGood(last.status)) span.uncertain += end - begin;
    });
  }

  private start(time: number, value: number): void {
    const begun = !Number.isNaN(this.known);
    this.known = value;
    const index = firstAtOrAfter(this.edges, time + 1) - 1;
    if (begun && index >= 0 && index < this.states.length) this.spanOf(index, value).starts++;
  }

  private spanOf(index: number, value: number): { time: number; uncertain: number; starts: number } {
    const span = this.states[index]!.get(value) ?? { time: 0, uncertain: 0, starts: 0 };
    this.states[index]!.set(value, span);
    return span;
  }

  /** @param dataEnd until when the last state is known to hold: the last sample, or the end of the watch beyond it. */
  finish(dataEnd = -Infinity): StateTimes[] {
    if (this.last && dataEnd > this.last.time) this.holdUntil(dataEnd);
    return this.states.map((states, i) => {
      let [known, uncertain] = [0, 0];
      for (const span of states.values()) {
        known += span.time;
        uncertain += span.uncertain;
      }
      const on = known - (states.get(0)?.time ?? 0);
      const unknown = this.edges[i + 1]! - this.edges[i]! - known;
      const onPercent = known > 0 ? (on / known) * 100 : NaN;
      return { states, good: known - uncertain, uncertain, unknown, onPercent };
    });
  }
}

const isUnknown = (value: number, status: number): boolean => isBad(status) || Number.isNaN(value);
