/** Values outside what a tag can be: its range, or what physics leaves. Times in microseconds. */
import type { Span } from '../coverage/spans.ts';
import type { Frame } from '../frame/frame.ts';
import { isBad } from '../status/codes.ts';
import { joinedToFew, type Beyond } from './doubt.ts';

export interface Bounds {
  readonly low: number | null;
  readonly high: number | null;
}

/** Nothing is colder (the kelvin's zero, SI Brochure, 9th edition, 2.3.1). */
const COLDEST: Readonly<Record<string, number>> = { K: 0, '°C': -273.15, degC: -273.15, '°F': -459.67, degF: -459.67 };

/** What a tag can be: its range where it has one, and never below absolute zero. */
export function boundsOf({ low, high, unit }: Bounds & { readonly unit: string }): Bounds {
  const coldest = COLDEST[unit] ?? null;
  return { low: coldest === null ? low : Math.max(coldest, low ?? -Infinity), high };
}

/** Gathers stretches outside the bounds from samples in ascending time; those that nearly touch are one. */
export class RangeBook {
  private readonly low: number;
  private readonly high: number;
  private readonly found: Beyond[] = [];
  private open: Beyond | null = null;
  /** Whether the last sample lay outside: it does so until the next one. */
  private outside = false;

  /** @param near two stretches that are not farther apart are one. */
  constructor(
    { low, high }: Bounds,
    private readonly window: Span,
    private readonly near: number,
  ) {
    this.low = low ?? -Infinity;
    this.high = high ?? Infinity;
  }

  take({ times, values, status }: Pick<Frame, 'times' | 'values' | 'status'>): void {
    const { low, high, window } = this;
    for (let i = 0; i < times.length; i++) {
      const time = times[i]!;
      if (time < window.from || time >= window.to) continue;
      const value = values[i]!;
      if (this.outside) this.open = { ...this.open!, to: time };
      this.outside = !isBad(status[i]!) && (value < low || value > high);
      if (this.outside) this.note(time, value);
    }
  }

  finish(): Beyond[] {
    if (this.open) this.found.push(this.open);
    this.open = null;
    return joinedToFew(this.found, joined);
  }

  private note(time: number, value: number): void {
    const bound = value < this.low ? this.low : this.high;
    const { open } = this;
    if (!open || time - open.to > this.near) {
      if (open) this.found.push(open);
      this.open = { kind: 'beyond', from: time, to: time, values: 1, worst: value, bound };
      return;
    }
    this.open = joined(open, { kind: 'beyond', from: time, to: time, values: 1, worst: value, bound });
  }
}

const farOut = ({ worst, bound }: Beyond): number => Math.abs(worst - bound);

function joined(earlier: Beyond, later: Beyond): Beyond {
  const { worst, bound } = farOut(later) > farOut(earlier) ? later : earlier;
  const to = Math.max(earlier.to, later.to);
  return { kind: 'beyond', from: earlier.from, to, values: earlier.values + later.values, worst, bound };
}
