/**
 * What a run of plain samples (status exactly Good, a finite value) says about itself: enough for every aggregate
 * without looking at the samples again. The ledger keeps one per block.
 *
 * Sums carry a second double for the digits that the first one loses, so that a sum of sums is the sum: however
 * samples are cut into runs, the figures stay the same.
 */
import { PairSum, SPLITTER, pairOf } from './exact.ts';

/** Times in microseconds since 1970, areas in value × microseconds. */
export interface RunSummary {
  readonly count: number;
  readonly firstTime: number;
  readonly firstValue: number;
  readonly lastTime: number;
  readonly lastValue: number;
  /** The sample before the last; NaN in a run of one. */
  readonly penultimateTime: number;
  readonly penultimateValue: number;
  readonly sum: number;
  readonly sumRest: number;
  readonly squares: number;
  readonly squaresRest: number;
  readonly least: number;
  /** Of the oldest of several equal ones. */
  readonly leastTime: number;
  readonly leastMany: boolean;
  readonly greatest: number;
  readonly greatestTime: number;
  readonly greatestMany: boolean;
  /** Under straight lines from sample to sample. */
  readonly slopedArea: number;
  readonly slopedAreaRest: number;
  /** Under values that hold until the next one. */
  readonly heldArea: number;
  readonly heldAreaRest: number;
  /** Changes of value from sample to sample. */
  readonly transitions: number;
  /** Microseconds for which a held value was zero. */
  readonly zeroTime: number;
}

/** Which parts of a summary are wanted; the others stay zero. */
export interface RunParts {
  readonly sums: boolean;
  readonly squares: boolean;
  readonly extremes: boolean;
  readonly slopedArea: boolean;
  readonly held: boolean;
}

export const ALL_PARTS: RunParts = { sums: true, squares: true, extremes: true, slopedArea: true, held: true };
export const NO_PARTS: RunParts = { sums: false, squares: false, extremes: false, slopedArea: false, held: false };

/** Whether samples [from, to) can be summed up as one run; the position of the first that cannot, or `to`. */
export function endOfRun(values: Float64Array, status: Uint32Array, from: number, to: number): number {
  let end = from;
  while (end < to && status[end] === 0 && Number.isFinite(values[end])) end++;
  return end;
}

/** Sums up plain samples [from, to), at least one. */
export function summariseRun(
  times: Float64Array,
  values: Float64Array,
  from: number,
  to: number,
  parts: RunParts = ALL_PARTS,
): RunSummary {
  const last = to - 1;
  const sums = parts.sums ? sumOf(values, from, to) : NOTHING;
  const squares = parts.squares ? sumOfSquares(values, from, to) : NOTHING;
  const extremes = parts.extremes ? extremesOf(values, from, to) : null;
  const sloped = parts.slopedArea ? slopedAreaOf(times, values, from, to) : NOTHING;
  const held = parts.held ? heldOf(times, values, from, to) : NO_HELD;
  return {
    count: to - from,
    firstTime: times[from]!,
    firstValue: values[from]!,
    lastTime: times[last]!,
    lastValue: values[last]!,
    penultimateTime: last > from ? times[last - 1]! : NaN,
    penultimateValue: last > from ? values[last - 1]! : NaN,
    sum: sums.main,
    sumRest: sums.rest,
    squares: squares.main,
    squaresRest: squares.rest,
    least: extremes ? values[extremes.least]! : NaN,
    leastTime: extremes ? times[extremes.least]! : NaN,
    leastMany: extremes?.leastMany ?? false,
    greatest: extremes ? values[extremes.greatest]! : NaN,
    greatestTime: extremes ? times[extremes.greatest]! : NaN,
    greatestMany: extremes?.greatestMany ?? false,
    slopedArea: sloped.main,
    slopedAreaRest: sloped.rest,
    heldArea: held.area.main,
    heldAreaRest: held.area.rest,
    transitions: held.transitions,
    zeroTime: held.zeroTime,
  };
}

const NOTHING = new PairSum();
const NO_HELD = { area: NOTHING, transitions: 0, zeroTime: 0 };

// The loops below are what reading a year waits for: locals instead of calls, on purpose.

function sumOf(values: Float64Array, from: number, to: number): PairSum {
  let main = 0;
  let rest = 0;
  for (let i = from; i < to; i++) {
    const value = values[i]!;
    const sum = main + value;
    const back = sum - main;
    rest += main - (sum - back) + (value - back);
    main = sum;
  }
  return pairOf(main, rest);
}

function sumOfSquares(values: Float64Array, from: number, to: number): PairSum {
  let main = 0;
  let rest = 0;
  for (let i = from; i < to; i++) {
    const value = values[i]!;
    const square = value * value;
    const big = SPLITTER * value;
    const high = big - (big - value);
    const low = value - high;
    const lost = low * low - (square - high * high - 2 * high * low);
    const sum = main + square;
    const back = sum - main;
    rest += main - (sum - back) + (square - back) + lost;
    main = sum;
  }
  return pairOf(main, rest);
}

function extremesOf(
  values: Float64Array,
  from: number,
  to: number,
): { least: number; leastMany: boolean; greatest: number; greatestMany: boolean } {
  let [least, greatest] = [from, from];
  let [low, high] = [values[from]!, values[from]!];
  let [leastMany, greatestMany] = [false, false];
  for (let i = from + 1; i < to; i++) {
    const value = values[i]!;
    if (value <= low) {
      if (value === low) leastMany = true;
      else [least, low, leastMany] = [i, value, false];
    }
    if (value >= high) {
      if (value === high) greatestMany = true;
      else [greatest, high, greatestMany] = [i, value, false];
    }
  }
  return { least, leastMany, greatest, greatestMany };
}

function slopedAreaOf(times: Float64Array, values: Float64Array, from: number, to: number): PairSum {
  let main = 0;
  let rest = 0;
  let [time, value] = [times[from]!, values[from]!];
  for (let i = from + 1; i < to; i++) {
    const [nextTime, nextValue] = [times[i]!, values[i]!];
    const part = ((value + nextValue) / 2) * (nextTime - time);
    const sum = main + part;
    const back = sum - main;
    rest += main - (sum - back) + (part - back);
    main = sum;
    time = nextTime;
    value = nextValue;
  }
  return pairOf(main, rest);
}

function heldOf(times: Float64Array, values: Float64Array, from: number, to: number): typeof NO_HELD {
  let main = 0;
  let rest = 0;
  let transitions = 0;
  let zeroTime = 0;
  let [time, value] = [times[from]!, values[from]!];
  for (let i = from + 1; i < to; i++) {
    const nextTime = times[i]!;
    const length = nextTime - time;
    const part = value * length;
    const sum = main + part;
    const back = sum - main;
    rest += main - (sum - back) + (part - back);
    main = sum;
    if (value === 0) zeroTime += length;
    if (values[i] !== value) transitions++;
    time = nextTime;
    value = values[i]!;
  }
  return { area: pairOf(main, rest), transitions, zeroTime };
}
