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

/** @throws RangeError when fewer bytes are left than a summary has. */
export function unpackRun(bytes: Uint8Array, offset = 0): RunSummary {
  const view = new DataView(bytes.buffer, bytes.byteOffset + offset, PACKED_RUN_BYTES);
  const number = (i: number): number => view.getFloat64(i * 8, true);
  const flags = number(21);
  return {
    count: number(0),
    firstTime: number(1),
    firstValue: number(2),
    lastTime: number(3),
    lastValue: number(4),
    penultimateTime: number(5),
    penultimateValue: number(6),
    sum: number(7),
    sumRest: number(8),
    squares: number(9),
    squaresRest: number(10),
    least: number(11),
    leastTime: number(12),
    leastMany: (flags & LEAST_MANY) !== 0,
    greatest: number(13),
    greatestTime: number(14),
    greatestMany: (flags & GREATEST_MANY) !== 0,
    slopedArea: number(15),
    slopedAreaRest: number(16),
    heldArea: number(17),
    heldAreaRest: number(18),
    transitions: number(19),
    zeroTime: number(20),
  };
}
