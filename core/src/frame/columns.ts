/** How each column of a frame is written. Every code here has its twin in the database's `history.sample`. */
import { ByteReader, ByteWriter, FrameError } from './bytes.ts';

const TIME_UNITS = [1_000_000, 1_000, 1] as const;
const REGULAR = 0x80;
/** Times whose steps leave the exact range of a double, as doubles: history with hostile or broken stamps. */
const RAW_TIMES = 3;
const MAXIMUM_STEP = 2 ** 50;
const MAXIMUM_FIRST = 2 ** 51;

/** Times over their common unit: first, first step, then changes of the step, or nothing more when it never changes. */
export function writeTimes(out: ByteWriter, times: Float64Array): void {
  const n = times.length;
  let unitCode = 0;
  for (let i = 0; i < n; i++) {
    while (unitCode < 2 && times[i]! % TIME_UNITS[unitCode]! !== 0) unitCode++;
    if (unitCode === 2) break;
  }
  if (!stepsAreExact(times)) {
    out.byte(RAW_TIMES);
    writePlanes(out, new Uint8Array(times.slice().buffer), 8);
    return;
  }
  const unit = TIME_UNITS[unitCode]!;
  const step = n > 1 ? times[1]! - times[0]! : 0;
  let regular = true;
  for (let i = 2; i < n && regular; i++) regular = times[i]! - times[i - 1]! === step;
  out.byte(regular ? unitCode | REGULAR : unitCode);
  out.zigzag(times[0]! / unit);
  if (n === 1) return;
  out.zigzag(step / unit);
  if (regular) return;
  let last = step / unit;
  for (let i = 2; i < n; i++) {
    const delta = (times[i]! - times[i - 1]!) / unit;
    out.zigzag(delta - last);
    last = delta;
  }
}

/** Whether first time, steps and changes of steps all stay whole numbers that a double holds when folded. */
function stepsAreExact(times: Float64Array): boolean {
  if (Math.abs(times[0]!) > MAXIMUM_FIRST) return false;
  for (let i = 1; i < times.length; i++) if (Math.abs(times[i]! - times[i - 1]!) > MAXIMUM_STEP) return false;
  return true;
}

/** The inverse of {@link writeTimes}; microseconds. @throws FrameError where the bytes end early. */
export function readTimes(input: ByteReader, n: number): Float64Array {
  const mode = input.byte();
  if (mode === RAW_TIMES) return new Float64Array(readPlanes(input, n, 8).buffer);
  const unit = TIME_UNITS[mode & 0x7f];
  if (unit === undefined) throw new FrameError(`its time code ${mode} is unknown`);
  const times = new Float64Array(n);
  let at = input.zigzag() * unit;
  times[0] = at;
  if (n === 1) return times;
  let step = input.zigzag() * unit;
  at += step;
  times[1] = at;
  if (mode & REGULAR) {
    for (let i = 2; i < n; i++) times[i] = at += step;
  } else {
    const changes = input.zigzags(times.subarray(2));
    for (let i = 2; i < n; i++) {
      step += changes[i - 2]! * unit;
      times[i] = at += step;
    }
  }
  return times;
}

/** Value codes 0 to 6 are decimals with so many places; the others are named here. */
const DICTIONARY = 16;
const FLOAT32 = 17;
const FLOAT64 = 18;
const HOLES = 0x80;
const MAXIMUM_SCALED = 2 ** 50;
const POWERS = [1, 10, 100, 1e3, 1e4, 1e5, 1e6] as const;

/** The fewest decimal places (0 to 6) with which every value is exact as scaled integer; -1 when there is none. */
function decimalPlaces(values: Float64Array): number {
  let places = 0;
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (value === 0 && 1 / value < 0) return -1;
    for (;;) {
      const scaled = Math.round(value * POWERS[places]!);
      if (Math.abs(scaled) > MAXIMUM_SCALED) return -1;
      if (scaled / POWERS[places]! === value) break;
      if (++places > 6) return -1;
    }
  }
  const power = POWERS[places]!;
  for (const value of values) {
    const scaled = Math.round(value * power);
    if (scaled / power !== value || Math.abs(scaled) > MAXIMUM_SCALED) return -1;
  }
  return places;
}

/** Distinct values in ascending order when there are at most `most`; null when there are more, or a minus zero. */
function dictionaryOf(values: Float64Array, most: number): Float64Array | null {
  const distinct = new Set<number>();
  for (const value of values) {
    if (value === 0 && 1 / value < 0) return null;
    distinct.add(value);
    if (distinct.size > most) return null;
  }
  return Float64Array.from(distinct).sort();
}

function isFloat32(values: Float64Array): boolean {
  for (const value of values) if (Math.fround(value) !== value) return false;
  return true;
}

/** Byte planes: all lowest bytes, then all second bytes, … so that a general compressor finds the likeness. */
function writePlanes(out: ByteWriter, bytes: Uint8Array, width: number): void {
  const n = bytes.length / width;
  const planes = new Uint8Array(bytes.length);
  for (let plane = 0; plane < width; plane++) {
    for (let i = 0; i < n; i++) planes[plane * n + i] = bytes[i * width + plane]!;
  }
  out.bytes(planes);
}

function readPlanes(input: ByteReader, n: number, width: number): Uint8Array {
  const planes = input.bytes(n * width);
  const bytes = new Uint8Array(n * width);
  for (let plane = 0; plane < width; plane++) {
    for (let i = 0; i < n; i++) bytes[i * width + plane] = planes[plane * n + i]!;
  }
  return bytes;
}

/** NaN has no number to code: its positions are written apart and the value before fills the hole. */
function fillHoles(values: Float64Array): { filled: Float64Array; holes: number[] } {
  const holes: number[] = [];
  for (let i = 0; i < values.length; i++) if (Number.isNaN(values[i])) holes.push(i);
  if (holes.length === 0) return { filled: values, holes };
  const filled = values.slice();
  for (const i of holes) filled[i] = i === 0 ? 0 : filled[i - 1]!;
  return { filled, holes };
}

/** Doubles in the shortest of several ways, each exact to the bit, NaN and −0 included. */
export function writeValues(out: ByteWriter, values: Float64Array): void {
  const { filled, holes } = fillHoles(values);
  const flag = holes.length > 0 ? HOLES : 0;
  const start = (code: number): void => {
    out.byte(code | flag);
    if (flag === 0) return;
    out.varint(holes.length);
    let last = 0;
    for (const hole of holes) {
      out.varint(hole - last);
      last = hole;
    }
  };
  const places = decimalPlaces(filled);
  if (places >= 0) {
    start(places);
    const power = POWERS[places]!;
    let last = 0;
    for (const value of filled) {
      const scaled = Math.round(value * power);
      out.zigzag(scaled - last);
      last = scaled;
    }
    return;
  }
  const dictionary = dictionaryOf(filled, Math.floor(filled.length / 4));
  if (dictionary !== null) {
    start(DICTIONARY);
    out.varint(dictionary.length);
    for (const value of dictionary) out.float64(value);
    const positions = new Map<number, number>();
    dictionary.forEach((value, position) => positions.set(value, position));
    let last = 0;
    for (const value of filled) {
      const position = positions.get(value)!;
      out.zigzag(position - last);
      last = position;
    }
    return;
  }
  if (isFloat32(filled)) {
    start(FLOAT32);
    writePlanes(out, new Uint8Array(Float32Array.from(filled).buffer), 4);
    return;
  }
  start(FLOAT64);
  const copy = filled.slice();
  writePlanes(out, new Uint8Array(copy.buffer), 8);
}

/** The inverse of {@link writeValues}. @throws FrameError for an unknown way, or where the bytes end early. */
export function readValues(input: ByteReader, n: number): Float64Array {
  const mode = input.byte();
  const code = mode & 0x7f;
  const holes: number[] = [];
  if (mode & HOLES) {
    const count = input.varint();
    let at = 0;
    for (let i = 0; i < count; i++) holes.push((at += input.varint()));
  }
  const values = readFilledValues(input, n, code);
  for (const hole of holes) {
    if (hole >= n) throw new FrameError('a missing value lies outside it');
    values[hole] = NaN;
  }
  return values;
}

function readFilledValues(input: ByteReader, n: number, code: number): Float64Array {
  if (code === FLOAT32) return Float64Array.from(new Float32Array(readPlanes(input, n, 4).buffer));
  if (code === FLOAT64) return new Float64Array(readPlanes(input, n, 8).buffer);
  if (code === DICTIONARY) {
    const dictionary = Float64Array.from({ length: boundedCount(input, n) }, () => input.float64());
    const values = input.zigzags(new Float64Array(n));
    let position = 0;
    for (let i = 0; i < n; i++) {
      position += values[i]!;
      const value = dictionary[position];
      if (value === undefined) throw new FrameError('a value points outside its dictionary');
      values[i] = value;
    }
    return values;
  }
  const power = POWERS[code];
  if (power === undefined) throw new FrameError(`its value code ${code} is unknown`);
  const values = input.zigzags(new Float64Array(n));
  let scaled = 0;
  for (let i = 0; i < n; i++) {
    scaled += values[i]!;
    values[i] = scaled / power;
  }
  return values;
}

function boundedCount(input: ByteReader, most: number): number {
  const count = input.varint();
  if (count > most) throw new FrameError(`a count of ${count} in it exceeds its ${most} samples`);
  return count;
}

/** Run-length pairs (value, how often) of whole numbers below 2^32. */
export function writeRuns(out: ByteWriter, column: Uint32Array | Uint8Array): void {
  let i = 0;
  while (i < column.length) {
    const value = column[i]!;
    let end = i + 1;
    while (end < column.length && column[end] === value) end++;
    out.varint(value);
    out.varint(end - i);
    i = end;
  }
}

/** Fills a column from run-length pairs. @throws FrameError where they are more or fewer than the column. */
export function readRuns<Column extends Uint32Array | Uint8Array>(input: ByteReader, column: Column): Column {
  let i = 0;
  while (i < column.length) {
    const value = input.varint();
    const run = input.varint();
    if (run === 0 || i + run > column.length) throw new FrameError('a run in it does not fit');
    column.fill(value, i, i + run);
    i += run;
  }
  return column;
}

/** Tags as zigzag differences: neighbours in a scan are neighbours by number. */
export function writeTags(out: ByteWriter, tags: Uint32Array): void {
  let last = 0;
  for (const tag of tags) {
    out.zigzag(tag - last);
    last = tag;
  }
}

/** The inverse of {@link writeTags}. @throws FrameError where the bytes end early. */
export function readTags(input: ByteReader, n: number): Uint32Array {
  const tags = new Uint32Array(n);
  const steps = input.zigzags(new Float64Array(n));
  let tag = 0;
  for (let i = 0; i < n; i++) {
    tag += steps[i]!;
    if (tag < 0 || tag > 0xffffffff) throw new FrameError('a tag number in it is out of range');
    tags[i] = tag;
  }
  return tags;
}
