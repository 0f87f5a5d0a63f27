/** Numbers in 16-bit registers: types, word orders, scaling. */

export const REGISTER_TYPES = ['int16', 'uint16', 'int32', 'uint32', 'float32', 'float64'] as const;
export type RegisterType = (typeof REGISTER_TYPES)[number];

/**
 * Order of the bytes on the wire, named by where the bytes A (most significant) to D of a 32-bit number stand.
 * `ABCD` is what the Modbus protocol suggests; the others are met (common practice, no source).
 */
export const WORD_ORDERS = ['ABCD', 'CDAB', 'BADC', 'DCBA'] as const;
export type WordOrder = (typeof WORD_ORDERS)[number];

const WIDTHS: Record<RegisterType, number> = { int16: 1, uint16: 1, int32: 2, uint32: 2, float32: 2, float64: 4 };

/** How many 16-bit registers a number of this type takes. */
export const registersOf = (type: RegisterType): number => WIDTHS[type];

function arrange(bytes: Uint8Array, order: WordOrder): Uint8Array {
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

/** The number in the given wire bytes (2 bytes per register). */
export function decodeRegisters(wire: Uint8Array, type: RegisterType, order: WordOrder): number {
  const bytes = arrange(wire.subarray(0, WIDTHS[type] * 2), order);
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
    case 'float32':
      return view.getFloat32(0);
    case 'float64':
      return view.getFloat64(0);
  }
}

/** The wire bytes of a number, the inverse of {@link decodeRegisters}; integers wrap as the device's would. */
export function encodeRegisters(value: number, type: RegisterType, order: WordOrder): Uint8Array {
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
  }
  return arrange(bytes, order);
}

/** Straight-line scaling of a raw number: `value = raw × factor + offset`, rounded to `places` decimals where given. */
export interface Scaling {
  readonly factor: number;
  readonly offset: number;
  readonly places?: number | undefined;
}

/** Scales a raw number. Rounding to the sensor's own decimals removes the noise of binary multiplication. */
export function scale(raw: number, scaling: Scaling | undefined): number {
  if (scaling === undefined) return raw;
  const value = raw * scaling.factor + scaling.offset;
  if (scaling.places === undefined || !Number.isFinite(value)) return value;
  const power = 10 ** scaling.places;
  return Math.round(value * power) / power;
}
