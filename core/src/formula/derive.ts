/**
 * A formula over series: a value at every instant at which one of its inputs has a sample, of the last sample that each
 * input has by then (held, not interpolated). The same samples give the same values, in whatever order they came.
 */
import type { Frame } from '../frame/frame.ts';
import { firstAtOrAfter } from '../aggregates/series.ts';
import { textAt } from '../samples/merge.ts';
import type { Span } from '../coverage/spans.ts';
import type { Formula, FormulaValue, InputsAt } from './formula.ts';

/** Where the inputs stand while instants pass by. */
class Walk implements InputsAt {
  time = -Infinity;
  /** For each input the place of its last sample by now; −1 before the first. */
  private readonly at: Int32Array;
  private readonly holdsText: readonly boolean[];

  constructor(
    private readonly inputs: readonly Frame[],
    from: number,
  ) {
    this.at = Int32Array.from(inputs, ({ times }) => firstAtOrAfter(times, from) - 1);
    this.holdsText = inputs.map(({ texts }) => texts.length > 0);
  }

  /** The next instant at which an input has a sample, and moves there; infinite after the last one. */
  next(): number {
    let next = Infinity;
    for (let i = 0; i < this.inputs.length; i++) {
      const time = this.inputs[i]!.times[this.at[i]! + 1];
      if (time !== undefined && time < next) next = time;
    }
    for (let i = 0; i < this.inputs.length; i++) if (this.inputs[i]!.times[this.at[i]! + 1] === next) this.at[i]!++;
    this.time = next;
    return next;
  }

  value(input: number, before: 0 | 1): FormulaValue {
    const place = this.at[input]! - before;
    if (place < 0) return NaN;
    const frame = this.inputs[input]!;
    return this.holdsText[input] ? (textAt(frame, place) ?? NaN) : frame.values[place]!;
  }

  status(input: number, before: 0 | 1): number | undefined {
    return this.inputs[input]!.status[this.at[input]! - before];
  }

  timeOf(input: number): number | undefined {
    return this.inputs[input]!.times[this.at[input]!];
  }
}

/**
 * The values of a formula in a window.
 * @param inputs one tag's samples each, in time order, in the order of the formula's inputs; before the window they
 *   reach back by two samples, as far as there are any
 * @param window [from, to), microseconds
 */
export function derive(formula: Formula, inputs: readonly Frame[], { from, to }: Span): Frame {
  const walk = new Walk(inputs, from);
  const times: number[] = [];
  const values: FormulaValue[] = [];
  const status: number[] = [];
  for (let time = walk.next(); time < to; time = walk.next()) {
    const outcome = formula.at(walk);
    times.push(time);
    values.push(outcome.value);
    status.push(outcome.status);
  }
  const texts = formula.givesText
    ? [...new Set(values.filter((value): value is string => typeof value === 'string'))]
    : [];
  const placeOf = new Map(texts.map((text, i) => [text, i]));
  return {
    tags: null,
    times: Float64Array.from(times),
    values: Float64Array.from(values, (value) => (typeof value === 'string' ? placeOf.get(value)! : value)),
    status: Uint32Array.from(status),
    origins: null,
    texts,
  };
}

/**
 * Until when a changed sample of an input may change what a formula gives: up to the second sample of that input behind
 * it, since a formula may look at the last two. @returns exclusive, microseconds; infinite where there are not so many
 */
export const touchedUntil = (times: Float64Array, time: number): number =>
  times[firstAtOrAfter(times, time + 1) + 1] ?? Infinity;
