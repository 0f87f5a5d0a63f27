/** Run summaries as bytes, as the ledger keeps them beside its blocks: doubles, little-endian. */
import { ALL_PARTS, type RunParts, type RunSummary } from './run.ts';

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

/** Doubles of one packed summary: the numbers, then the flags. */
const LENGTH = NUMBERS.length + 1;
/** Length of one packed summary. */
export const PACKED_RUN_BYTES = LENGTH * 8;

/** Doubles `from` to `to` of a packed summary. */
export interface PackedRange {
  readonly from: number;
  readonly to: number;
}

const HEAD: PackedRange = { from: 0, to: 7 };
const RANGES: Readonly<Record<keyof RunParts, readonly PackedRange[]>> = {
  sums: [{ from: 7, to: 9 }],
  squares: [{ from: 9, to: 11 }],
  extremes: [
    { from: 11, to: 15 },
    { from: 21, to: 22 },
  ],
  slopedArea: [{ from: 15, to: 17 }],
  held: [{ from: 17, to: 21 }],
};

/** Where the wanted parts lie in a packed summary, in ascending order: the rest need not be fetched. */
export function packedRanges(parts: RunParts): PackedRange[] {
  const wanted = Object.entries(RANGES).flatMap(([part, ranges]) => (parts[part as keyof RunParts] ? ranges : []));
  const joined: PackedRange[] = [];
  for (const range of [HEAD, ...wanted].sort((a, b) => a.from - b.from)) {
    const last = joined.at(-1);
    if (last?.to === range.from) joined[joined.length - 1] = { from: last.from, to: range.to };
    else joined.push(range);
  }
  return joined;
}

/** A summary as little-endian doubles in a fixed order, the inverse of what {@link PackedRuns} reads. */
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

/** Many summaries where they lie, in ascending time. */
export class PackedRuns implements Iterable<RunSummary> {
  readonly length: number;

  private constructor(private readonly numbers: Float64Array) {
    this.length = numbers.length / LENGTH;
  }

  /**
   * Packed summaries, one behind the other, of each only what {@link packedRanges} says for `parts`; the rest is 0.
   * @throws RangeError when the bytes are no whole number of such summaries.
   */
  static unpack(bytes: Uint8Array, parts: RunParts = ALL_PARTS): PackedRuns {
    const ranges = packedRanges(parts);
    const given = ranges.reduce((sum, { from, to }) => sum + to - from, 0);
    if (bytes.length % (given * 8) !== 0) throw new RangeError(`${bytes.length} bytes are no summaries of runs.`);
    // A copy that starts where doubles may start; the platform's byte order is the packed one wherever we run.
    const packed = new Float64Array(new Uint8Array(bytes).buffer);
    if (given === LENGTH) return new PackedRuns(packed);
    const numbers = new Float64Array((packed.length / given) * LENGTH);
    for (let at = 0, run = 0; at < packed.length; run += LENGTH) {
      for (const { from, to } of ranges) for (let k = from; k < to; k++) numbers[run + k] = packed[at++]!;
    }
    return new PackedRuns(numbers);
  }

  firstTime(index: number): number {
    return this.numbers[index * LENGTH + 1]!;
  }

  lastTime(index: number): number {
    return this.numbers[index * LENGTH + 3]!;
  }

  /** Those at positions [from, to), sharing memory with all. */
  slice(from: number, to: number): PackedRuns {
    return new PackedRuns(this.numbers.subarray(from * LENGTH, to * LENGTH));
  }

  *[Symbol.iterator](): Generator<RunSummary> {
    for (let at = 0; at < this.numbers.length; at += LENGTH) yield new PackedRun(this.numbers, at);
  }
}
