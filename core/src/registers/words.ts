/** Values in 16-bit registers: types, word orders. */

export const REGISTER_TYPES = [
  'int16',
  'uint16',
  'int32',
  'uint32',
  'int64',
  'uint64',
  'float32',
  'float64',
  'bcd16',
  'bcd32',
  'bit',
  'text',
] as const;
export type RegisterType = (typeof REGISTER_TYPES)[number];

/** Types of which every value is a number that a register map states; the others are bits and texts. */
export type NumericRegisterType = Exclude<RegisterType, 'bit' | 'text' | 'int64' | 'uint64'>;

/**
 * Order of the bytes on the wire, named by where the bytes A (most significant) to D of a 32-bit number stand.
 * `ABCD` is what the Modbus protocol suggests; the others are met (common practice, no source). Longer values follow the
 * same rule: words in their order or reversed, bytes within each word in their order or swapped.
 */
export const WORD_ORDERS = ['ABCD', 'CDAB', 'BADC', 'DCBA'] as const;
export type WordOrder = (typeof WORD_ORDERS)[number];

/** How a value lies in registers. */
export interface RegisterLayout {
  readonly type: RegisterType;
  readonly order: WordOrder;
  /** Of a bit: which one, 0 is the least significant. */
  readonly bit?: number | undefined;
  /** Of a text: how many registers it takes. */
  readonly length?: number | undefined;
}

const WIDTHS: Record<Exclude<RegisterType, 'text'>, number> = {
  int16: 1,
  uint16: 1,
  int32: 2,
  uint32: 2,
  int64: 4,
  uint64: 4,
  float32: 2,
  float64: 4,
  bcd16: 1,
  bcd32: 2,
  bit: 1,
};
/** Registers of a text that does not say how many. */
export const TEXT_REGISTERS = 8;

/** How many 16-bit registers a value takes. */
export const registersOf = ({ type, length }: Pick<RegisterLayout, 'type' | 'length'>): number =>
  type === 'text' ? (length ?? TEXT_REGISTERS) : WIDTHS[type];

export function arrange(bytes: Uint8Array, order: WordOrder): Uint8Array {
  const words = bytes.length / 2;
  const swapBytes = order === 'BADC' || order === 'DCBA';
  const swapWords = order === 'CDAB' || order === 'DCBA';
  const arranged = new Uint8Array(bytes.length);
  for (let word = 0; word < words; word++) {
    const from = 2 * (swapWords ? words - 1 - word : word);
    arranged[2 * word] = bytes[swapBytes ? from + 1 : from]!;
    arranged[2 * word + 1] = bytes[swapBytes ? from : from + 1]!;
  }
  return arranged;
}

/**
 * The value in the given wire bytes (2 bytes per register): a number, a bigint of 64-bit integers, or a text.
 * Of binary-coded decimals with a digit beyond 9, NaN. Texts end at their first NUL or trailing spaces; their characters
 * are those of ISO 8859-1.
 */
export function decodeRegisters(wire: Uint8Array, layout: RegisterLayout): number | bigint | string {
  const { type, order } = layout;
  const bytes = arrange(wire.subarray(0, registersOf(layout) * 2), order);
  const view = new DataView(bytes.buffer);
  switch (type) {
    case 'int16':
      return view.getInt16(0);
    case 'uint16':
      return view.getUint16(0);
    case 'int32':
      return view.getInt32(0);
    case 'uint32':
      return view.getUint32(0);
    case 'int64':
      return view.getBigInt64(0);
    case 'uint64':
      return view.getBigUint64(0);
    case 'float32':
      return view.getFloat32(0);
    case 'float64':
      return view.getFloat64(0);
    case 'bcd16':
    case 'bcd32':
      return decimalDigits(bytes);
    case 'bit':
      return (view.getUint16(0) >> (layout.bit ?? 0)) & 1;
    case 'text':
      return String.fromCharCode(...bytes)
        .replace(/\0.*$/s, '')
        .replace(/ +$/, '');
  }
}

/** Digits of four bits each, most significant first. */
function decimalDigits(bytes: Uint8Array): number {
  let value = 0;
  for (const byte of bytes) {
    const [high, low] = [byte >> 4, byte & 15];
    if (high > 9 || low > 9) return NaN;
    value = value * 100 + high * 10 + low;
  }
  return value;
}

/** The wire bytes of a number, the inverse of {@link decodeRegisters}; integers wrap as the device's would. */
export function encodeRegisters(value: number, type: NumericRegisterType, order: WordOrder): Uint8Array {
  const bytes = new Uint8Array(WIDTHS[type] * 2);
  const view = new DataView(bytes.buffer);
  switch (type) {
    case 'int16':
    case 'uint16':
      view.setUint16(0, value);
      break;
    case 'int32':
    case 'uint32':
      view.setUint32(0, value);
      break;
    case 'float32':
      view.setFloat32(0, value);
      break;
    case 'float64':
      view.setFloat64(0, value);
      break;
    case 'bcd16':
    case 'bcd32':
      bytes.forEach((_, i) => {
        const pair = Math.floor(value / 100 ** (bytes.length - 1 - i)) % 100;
        bytes[i] = (Math.floor(pair / 10) << 4) | (pair % 10);
      });
      break;
  }
  return arrange(bytes, order);
}
