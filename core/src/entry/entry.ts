/**
 * An entry is what travels and what the journal keeps: a batch of samples with where it comes from.
 * On the wire: 'WLE1', length of the description (uint32, big-endian), description as JSON, then the frame.
 */
import { FrameError } from '../frame/bytes.ts';
import { decodeFrame, encodeFrame } from '../frame/codec.ts';
import type { Frame } from '../frame/frame.ts';

const MAGIC = [0x57, 0x4c, 0x45, 0x31];
const HEADER = 8;
const MAXIMUM_DESCRIPTION = 4 * 1024 * 1024;

const toUtf8 = new TextEncoder();
const fromUtf8 = new TextDecoder('utf-8', { fatal: true });

/** Packs a description (anything JSON can hold) and a frame, or no frame where only coverage is reported. */
export function packEntry(description: unknown, frame: Frame | null): Uint8Array {
  const words = toUtf8.encode(JSON.stringify(description));
  const samples = frame === null ? new Uint8Array(0) : encodeFrame(frame);
  const packed = new Uint8Array(HEADER + words.length + samples.length);
  packed.set(MAGIC);
  new DataView(packed.buffer).setUint32(4, words.length);
  packed.set(words, HEADER);
  packed.set(samples, HEADER + words.length);
  return packed;
}

export interface UnpackedEntry {
  /** Not yet checked: the border where it arrives validates it. */
  readonly description: unknown;
  /** The frame's bytes as they came, to be kept as they are; null when there is none. */
  readonly frameBytes: Uint8Array | null;
  readonly frame: Frame | null;
}

/** @throws FrameError when the bytes are no entry. */
export function unpackEntry(packed: Uint8Array): UnpackedEntry {
  if (packed.length < HEADER || MAGIC.some((byte, i) => packed[i] !== byte)) {
    throw new FrameError('it does not start with "WLE1"');
  }
  const length = new DataView(packed.buffer, packed.byteOffset).getUint32(4);
  if (length > MAXIMUM_DESCRIPTION || HEADER + length > packed.length) {
    throw new FrameError(`its description of ${length} bytes does not fit`);
  }
  let description: unknown;
  try {
    description = JSON.parse(fromUtf8.decode(packed.subarray(HEADER, HEADER + length)));
  } catch {
    throw new FrameError('its description is not JSON');
  }
  const frameBytes = packed.subarray(HEADER + length);
  if (frameBytes.length === 0) return { description, frameBytes: null, frame: null };
  return { description, frameBytes, frame: decodeFrame(frameBytes) };
}
