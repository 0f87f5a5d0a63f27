/** Run summaries as bytes, as the ledger keeps them beside its blocks: doubles, little-endian. */
import type { RunSummary } from './run.ts';

const NUMBERS = [
  'count',
  'firstTime',
  'firstValue',
  'lastTime',
  'lastValue',
  'penultimateTime',
  'penultimateValue',
  'sum',
  'sumRest',
  'squares',
  'squaresRest',
  'least',
  'leastTime',
  'greatest',
  'greatestTime',
  'slopedArea',
  'slopedAreaRest',
  'heldArea',
  'heldAreaRest',
  'transitions',
  'zeroTime',
] as const satisfies readonly (keyof RunSummary)[];

const LEAST_MANY = 1;
const GREATEST_MANY = 2;

/** Length of one packed summary. */
export const PACKED_RUN_BYTES = (NUMBERS.length + 1) * 8;

export function packRun(run: RunSummary): Uint8Array {
  const bytes = new Uint8Array(PACKED_RUN_BYTES);
  const view = new DataView(bytes.buffer);
  NUMBERS.forEach((name, i) => view.setFloat64(i * 8, run[name], true));
  const flags = (run.leastMany ? LEAST_MANY : 0) | (run.greatestMany ? GREATEST_MANY : 0);
  view.setFloat64(NUMBERS.length * 8, flags, true);
  return bytes;
}

/** A summary where it lies among many others: reading a year's takes no copy of each. */
class PackedRun implements RunSummary {
  constructor(
    private readonly numbers: Float64Array,
    private readonly at: number,
  ) {}
  get count(): number {
    return this.numbers[this.at]!;
  }
  get firstTime(): number {
    return this.numbers[this.at + 1]!;
  }
  get firstValue(): number {
    return this.numbers[this.at + 2]!;
  }
  get lastTime(): number {
    return this.numbers[this.at + 3]!;
  }
  get lastValue(): number {
    return this.numbers[this.at + 4]!;
  }
  get penultimateTime(): number {
    return this.numbers[this.at + 5]!;
  }
  get penultimateValue(): number {
    return this.numbers[this.at + 6]!;
  }
  get sum(): number {
    return this.numbers[this.at + 7]!;
  }
  get sumRest(): number {
    return this.numbers[this.at + 8]!;
  }
  get squares(): number {
    return this.numbers[this.at + 9]!;
  }
  get squaresRest(): number {
    return this.numbers[this.at + 10]!;
  }
  get least(): number {
    return this.numbers[this.at + 11]!;
  }
  get leastTime(): number {
    return this.numbers[this.at + 12]!;
  }
  get greatest(): number {
    return this.numbers[this.at + 13]!;
  }
  get greatestTime(): number {
    return this.numbers[this.at + 14]!;
  }
  get slopedArea(): number {
    return this.numbers[this.at + 15]!;
  }
  get slopedAreaRest(): number {
    return this.numbers[this.at + 16]!;
  }
  get heldArea(): number {
    return this.numbers[this.at + 17]!;
  }
  get heldAreaRest(): number {
    return this.numbers[this.at + 18]!;
  }
  get transitions(): number {
    return this.numbers[this.at + 19]!;
  }
  get zeroTime(): number {
    return this.numbers[this.at + 20]!;
  }
  get leastMany(): boolean {
    return (this.numbers[this.at + 21]! & LEAST_MANY) !== 0;
  }
  get greatestMany(): boolean {
    return (this.numbers[this.at + 21]! & GREATEST_MANY) !== 0;
  }
}

/**
 * Packed summaries, one behind the other.
 * @throws RangeError when the bytes are no whole number of summaries.
 */
export function unpackRuns(bytes: Uint8Array): RunSummary[] {
  if (bytes.length % PACKED_RUN_BYTES !== 0) throw new RangeError(`${bytes.length} bytes are no summaries of runs.`);
  // A copy that starts where doubles may start; the platform's byte order is the packed one wherever we run.
  const numbers = new Float64Array(new Uint8Array(bytes).buffer);
  const length = NUMBERS.length + 1;
  return Array.from({ length: numbers.length / length }, (_, i) => new PackedRun(numbers, i * length));
}
