/**
 * Frames to bytes and back. Layout: version, flags, count, then times, values, status, and what the flags announce.
 * 64-bit integers are written as what is missing from the doubles next to them, 1,024 at most.
 */
import { ByteReader, ByteWriter, FrameError } from './bytes.ts';
import { readRuns, readTags, readTimes, readValues, writeRuns, writeTags, writeTimes, writeValues } from './columns.ts';
import { MAXIMUM_FRAME_SAMPLES, isBeyondDouble, isWhole64, toWhole, type Frame } from './frame.ts';

/** First byte of every frame. A frame with another version is refused, never guessed at. */
export const FRAME_VERSION = 0x31;

const WITH_TAGS = 1;
const WITH_ORIGINS = 2;
const WITH_TEXTS = 4;
const WITH_WHOLES = 8;
const ALL_FLAGS = 15;

const toUtf8 = new TextEncoder();
const fromUtf8 = new TextDecoder('utf-8', { fatal: true });

/** Writes a frame of at least one sample. Identity with {@link decodeFrame} for every double, NaN and −0 included. */
export function encodeFrame(frame: Frame): Uint8Array {
  const n = frame.times.length;
  if (n === 0 || n > MAXIMUM_FRAME_SAMPLES) {
    throw new RangeError(`A frame holds 1 to ${MAXIMUM_FRAME_SAMPLES} samples, not ${n}.`);
  }
  const out = new ByteWriter(64 + n * 4);
  out.byte(FRAME_VERSION);
  const missing = missingFromDoubles(frame);
  out.byte(
    (frame.tags ? WITH_TAGS : 0) |
      (frame.origins ? WITH_ORIGINS : 0) |
      (frame.texts.length > 0 ? WITH_TEXTS : 0) |
      (missing ? WITH_WHOLES : 0),
  );
  out.varint(n);
  writeTimes(out, frame.times);
  writeValues(out, frame.values);
  writeRuns(out, frame.status);
  if (frame.tags) writeTags(out, frame.tags);
  if (frame.origins) writeRuns(out, frame.origins);
  if (frame.texts.length > 0) {
    out.varint(frame.texts.length);
    for (const text of frame.texts) {
      const bytes = toUtf8.encode(text);
      out.varint(bytes.length);
      out.bytes(bytes);
    }
  }
  for (const part of missing ?? []) out.zigzag(part);
  return out.finish();
}

/** Neighbours among the doubles below 2^63 are 1,024 apart. */
const MOST_MISSING = 1024;

/**
 * What the doubles of 64-bit integers leave out; null where they leave out nothing.
 * @throws RangeError where an integer is not the one next to its double: its reader would refuse it.
 */
function missingFromDoubles({ values, wholes }: Frame): number[] | null {
  if (!wholes) return null;
  const missing = Array.from(wholes, (whole, i) => {
    const value = values[i]!;
    if (!isBeyondDouble(value)) return 0;
    const part = Number(whole - BigInt(value));
    if (Math.abs(part) > MOST_MISSING) throw new RangeError(`The integer ${whole} does not stand beside ${value}.`);
    return part;
  });
  return missing.some((part) => part !== 0) ? missing : null;
}

/**
 * Reads a frame that fills the bytes exactly.
 * @throws FrameError saying what is wrong with the bytes.
 */
export function decodeFrame(bytes: Uint8Array): Frame {
  const input = new ByteReader(bytes);
  if (bytes.length === 0) throw new FrameError('there are no bytes');
  const version = input.byte();
  if (version !== FRAME_VERSION) {
    throw new FrameError(`it starts with 0x${version.toString(16).padStart(2, '0')} instead of 0x31`);
  }
  const flags = input.byte();
  if (flags > ALL_FLAGS) throw new FrameError(`its flags ${flags} are unknown`);
  const n = input.varint();
  if (n === 0 || n > MAXIMUM_FRAME_SAMPLES) throw new FrameError(`it claims ${n} samples`);
  const times = readTimes(input, n);
  const values = readValues(input, n);
  const status = readRuns(input, new Uint32Array(n));
  const tags = flags & WITH_TAGS ? readTags(input, n) : null;
  const origins = flags & WITH_ORIGINS ? readRuns(input, new Uint8Array(n)) : null;
  const texts = flags & WITH_TEXTS ? readTexts(input) : [];
  const wholes = flags & WITH_WHOLES ? readWholes(input, values) : null;
  if (input.remaining !== 0) throw new FrameError(`${input.remaining} bytes follow its end`);
  return { tags, times, values, status, origins, texts, wholes };
}

function readTexts(input: ByteReader): string[] {
  const count = input.varint();
  if (count > input.remaining) throw new FrameError('it claims more texts than it has bytes');
  const texts: string[] = [];
  for (let i = 0; i < count; i++) {
    try {
      texts.push(fromUtf8.decode(input.bytes(input.varint())));
    } catch (error) {
      if (error instanceof FrameError) throw error;
      throw new FrameError('a text in it is not UTF-8');
    }
  }
  return texts;
}

function readWholes(input: ByteReader, values: Float64Array): BigInt64Array {
  const missing = input.zigzags(new Float64Array(values.length));
  return BigInt64Array.from(values, (value, i) => {
    const part = missing[i]!;
    if (part === 0) return toWhole(value);
    if (!isBeyondDouble(value)) throw new FrameError('an integer in it is none');
    // Written by an early version that lost the integer: all that is known of it is its double.
    if (Math.abs(part) > MOST_MISSING) return toWhole(value);
    const whole = BigInt(value) + BigInt(part);
    if (!isWhole64(whole)) throw new FrameError('an integer in it has more than 64 bits');
    return whole;
  });
}
