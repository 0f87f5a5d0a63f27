/**
 * Tallies: how many samples a stretch of a tag holds, and a sum over all of them of a hash of time, value and status.
 * The sum does not depend on any order, and what is added can be taken away again: a month's tally is kept by adding
 * what comes and subtracting what goes, and two stores that hold the same samples have the same tally, however their
 * samples came and however they are cut into blocks.
 *
 * Four lanes of 32 bits. A sample is mixed into two states of 32 bits, each by steps that can be undone, so that no two
 * samples that differ in one word have the same states; the lanes are made of the two. It guards against mistakes of
 * machines and programs, not against somebody who wants to forge it.
 */
import { MOST_WHOLE, toWhole, type Frame } from '../frame/frame.ts';
import { textAt } from '../samples/merge.ts';
import { finished, mixed, mixedToo } from './mixing.ts';

/** Lanes as whole numbers from 0 to 2^32 − 1. */
export interface Tally {
  readonly count: number;
  readonly lanes: readonly [number, number, number, number];
}

export const EMPTY_TALLY: Tally = { count: 0, lanes: [0, 0, 0, 0] };

const TWO_32 = 4_294_967_296;
/** What a value is, so that the text "1", the number 1 and nothing at all are three things. */
const NUMBER = 1;
const NOTHING = 2;
const WHOLE = 3;
const TEXT = 4;

/** Where the two states begin. */
const SEED = 0x9747b28c | 0;
const OTHER_SEED = 0x165667b1;

const bits = new DataView(new ArrayBuffer(8));

/** The words of a value: what it is, and 64 bits of it. */
const words = { kind: 0, low: 0, high: 0 };

function takeValue(frame: Frame, i: number): void {
  if (frame.texts.length > 0) {
    const text = textAt(frame, i);
    [words.kind, words.low, words.high] = [text === null ? NOTHING : TEXT, 0, 0];
    for (let k = 0; k < (text?.length ?? 0); k++) {
      words.low = mixed(words.low, text!.charCodeAt(k));
      words.high = mixedToo(words.high, text!.charCodeAt(k));
    }
    return;
  }
  const value = frame.values[i]!;
  if (Number.isNaN(value)) {
    [words.kind, words.low, words.high] = [NOTHING, 0, 0];
    return;
  }
  if (Number.isInteger(value) && !Number.isSafeInteger(value) && Math.abs(value) <= MOST_WHOLE) {
    // Whether it has a column of 64-bit integers beside it depends on what else is in the frame.
    words.kind = WHOLE;
    bits.setBigInt64(0, frame.wholes?.[i] ?? toWhole(value), true);
  } else {
    words.kind = NUMBER;
    bits.setFloat64(0, value, true);
  }
  words.low = bits.getInt32(0, true);
  words.high = bits.getInt32(4, true);
}

/** Whether this machine holds a double as its words are taken here, the lower one first; nearly all do. */
const LOWER_FIRST = new Int32Array(Float64Array.of(1).buffer)[1] !== 0;
const SAFE = Number.MAX_SAFE_INTEGER;

/** The tally of a frame's samples from position `from` up to, not including, `to`. Their origins do not matter. */
export function tallyOf(frame: Frame, from = 0, to = frame.times.length): Tally {
  const { times, values, status, texts } = frame;
  const pairs =
    texts.length === 0 && LOWER_FIRST ? new Int32Array(values.buffer, values.byteOffset, 2 * values.length) : null;
  let a = 0;
  let b = 0;
  let c = 0;
  let d = 0;
  for (let i = from; i < to; i++) {
    const value = values[i]!;
    let kind = NUMBER;
    let low: number;
    let high: number;
    // Most are plain numbers; what is none, or holds more than a double, is looked at closely.
    if (pairs !== null && value >= -SAFE && value <= SAFE) {
      low = pairs[2 * i]!;
      high = pairs[2 * i + 1]!;
    } else {
      takeValue(frame, i);
      ({ kind, low, high } = words);
    }
    const time = times[i]!;
    const upper = Math.floor(time / TWO_32);
    const lower = (time - upper * TWO_32) | 0;
    const state = status[i]! | 0;
    let x = mixed(mixed(SEED, lower), upper);
    x = mixed(mixed(mixed(mixed(x, low), high), state), kind);
    let y = mixedToo(mixedToo(OTHER_SEED, lower), upper);
    y = mixedToo(mixedToo(mixedToo(mixedToo(y, low), high), state), kind);
    a = (a + finished(x)) | 0;
    b = (b + finished(y)) | 0;
    c = (c + finished((x + ((y << 7) | (y >>> 25))) | 0)) | 0;
    d = (d + finished(y ^ Math.imul(x, 0x9e3779b1))) | 0;
  }
  return { count: to - from, lanes: [a >>> 0, b >>> 0, c >>> 0, d >>> 0] };
}

/** @returns what both hold together. */
export const addTallies = (one: Tally, other: Tally): Tally => combine(one, other, 1);
/** @returns what is left of one when the other is taken away. */
export const subtractTallies = (one: Tally, other: Tally): Tally => combine(one, other, -1);

function combine(one: Tally, other: Tally, sign: 1 | -1): Tally {
  const lane = (i: 0 | 1 | 2 | 3): number => (one.lanes[i] + sign * other.lanes[i]) >>> 0;
  return { count: one.count + sign * other.count, lanes: [lane(0), lane(1), lane(2), lane(3)] };
}

/** Whether two stretches hold the same. */
export const sameTally = (one: Tally, other: Tally): boolean =>
  one.count === other.count && one.lanes.every((lane, i) => lane === other.lanes[i]);

/** The lanes as 32 hexadecimal digits. */
export const tallyText = ({ lanes }: Tally): string => lanes.map((lane) => lane.toString(16).padStart(8, '0')).join('');

/** @param text 32 hexadecimal digits. */
export function parseTally(count: number, text: string): Tally {
  if (!/^[0-9a-f]{32}$/.test(text)) throw new RangeError(`"${text}" is no tally: it has to be 32 hexadecimal digits.`);
  const lane = (i: number): number => parseInt(text.slice(8 * i, 8 * i + 8), 16);
  return { count, lanes: [lane(0), lane(1), lane(2), lane(3)] };
}
