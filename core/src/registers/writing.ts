/** From a value in a tag's unit to what is written into registers: the way back of reading. Pure. */
import { arrange, encodeRegisters, registersOf, type RegisterLayout } from './words.ts';
import type { Scaling } from './scaling.ts';

/** A value that cannot be written as it is, with the reason for people. */
export class UnwritableError extends Error {
  override readonly name = 'UnwritableError';
}

/** The raw number that a scaled value comes from. @throws UnwritableError where the scaling loses it. */
export function unscale(value: number, scaling: Scaling | undefined): number {
  if (scaling === undefined) return value;
  const { factor, offset, ranges } = scaling;
  const slope = ranges ? (ranges.high - ranges.low) / (ranges.rawHigh - ranges.rawLow) : factor;
  if (slope === 0) throw new UnwritableError('The scaling makes the same of every raw value: nothing can be written.');
  return ranges ? ranges.rawLow + (value - ranges.low) / slope : (value - offset) / factor;
}

type Limits = readonly [least: bigint, most: bigint];
const signed = (bits: bigint): Limits => [-(2n ** (bits - 1n)), 2n ** (bits - 1n) - 1n];
const unsigned = (bits: bigint): Limits => [0n, 2n ** bits - 1n];

/** What whole numbers of each width can be. */
export const WHOLE_LIMITS = {
  int8: signed(8n),
  uint8: unsigned(8n),
  int16: signed(16n),
  uint16: unsigned(16n),
  int32: signed(32n),
  uint32: unsigned(32n),
  int64: signed(64n),
  uint64: unsigned(64n),
  bcd16: [0n, 9_999n],
  bcd32: [0n, 99_999_999n],
} as const satisfies Record<string, Limits>;

/** The whole number that lies nearest. @param holder what is to hold it, for people. @throws UnwritableError where it does not fit. */
export function wholeFor(raw: number | bigint, width: keyof typeof WHOLE_LIMITS, holder: string): bigint {
  if (typeof raw === 'number' && !Number.isFinite(raw)) throw new UnwritableError('Only a number can be written.');
  const whole = typeof raw === 'bigint' ? raw : BigInt(Math.round(raw));
  const [least, most] = WHOLE_LIMITS[width];
  if (whole >= least && whole <= most) return whole;
  throw new UnwritableError(`${holder} whole numbers from ${least} to ${most}; ${whole} does not fit.`);
}

/**
 * The wire bytes of a raw value, 2 a register: the inverse of `decodeRegisters` for what the registers can hold. A number
 * between two whole ones becomes the nearest.
 * @throws UnwritableError for what they cannot hold.
 */
export function registersFor(raw: number | bigint | string, layout: RegisterLayout): Uint8Array {
  const { type, order } = layout;
  if (type === 'text') return textRegisters(String(raw), layout);
  if (typeof raw === 'string') throw new UnwritableError(`"${raw}" is a text, and the registers hold a number.`);
  if (isWholeWidth(type)) {
    const whole = wholeFor(raw, type, 'The registers hold');
    if (type !== 'int64' && type !== 'uint64') return encodeRegisters(Number(whole), type, order);
    const bytes = new Uint8Array(8);
    new DataView(bytes.buffer).setBigUint64(0, BigInt.asUintN(64, whole));
    return arrange(bytes, order);
  }
  const number = Number(raw);
  if (!Number.isFinite(number)) throw new UnwritableError('Only a number can be written.');
  if (type === 'float32' && Math.abs(number) > 3.402_823_466_385_288_6e38)
    throw new UnwritableError(`${number} is too large for 32 bits.`);
  return encodeRegisters(number, type as 'float32', order);
}

const isWholeWidth = (type: string): type is keyof typeof WHOLE_LIMITS => Object.hasOwn(WHOLE_LIMITS, type);

/** Characters of ISO 8859-1, a byte each; what is left is filled with zeros. */
function textRegisters(text: string, layout: RegisterLayout): Uint8Array {
  const bytes = new Uint8Array(2 * registersOf(layout));
  if (text.length > bytes.length)
    throw new UnwritableError(`The registers hold ${bytes.length} characters; "${text}" has ${text.length}.`);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === 0 || code > 255) throw new UnwritableError(`The character "${text[i]}" cannot be kept in registers.`);
    bytes[i] = code;
  }
  return arrange(bytes, layout.order);
}
