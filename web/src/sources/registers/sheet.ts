/** A block of registers, read in every type and word order. Pure. */
import type { ModbusAddress, RegisterBlock } from '@wide-ledger/contract';
import { decodeRegisters, registersOf, type RegisterType, type WordOrder } from '@wide-ledger/core';

/** The types that are shown one beside the other; the longest are too long for that. */
export const BESIDE: readonly RegisterType[] = [
  'uint16',
  'int16',
  'uint32',
  'int32',
  'float32',
  'float64',
  'bcd16',
  'bcd32',
];

/** All types in which a register is read. */
export const SHOWN: readonly RegisterType[] = [
  'uint16',
  'int16',
  'uint32',
  'int32',
  'float32',
  'uint64',
  'int64',
  'float64',
  'bcd16',
  'bcd32',
];

const ONE_REGISTER: readonly RegisterType[] = ['uint16', 'int16', 'bcd16', 'bit'];

/** Whether the order of words tells two readings of a type apart; of one register only that of its bytes does. */
export const ordersOf = (type: RegisterType): readonly WordOrder[] =>
  ONE_REGISTER.includes(type) ? ['ABCD', 'BADC'] : ['ABCD', 'CDAB', 'BADC', 'DCBA'];

/** Bytes of a block as its answer has them. */
export const bytesOf = (data: string): Uint8Array =>
  Uint8Array.from(data.match(/../g) ?? [], (pair) => Number.parseInt(pair, 16));

/** A reading at an index of the block, as people read it; null where it runs out of the block. */
export function readingAt(bytes: Uint8Array, index: number, type: RegisterType, order: WordOrder): string | null {
  const from = 2 * index;
  if (from + 2 * registersOf({ type }) > bytes.length) return null;
  const value = decodeRegisters(bytes.subarray(from), { type, order });
  if (typeof value !== 'number') return String(value);
  if (Number.isNaN(value)) return '—';
  if (Number.isInteger(value) && Math.abs(value) < 1e15) return String(value);
  const size = Math.abs(value);
  return size !== 0 && (size < 1e-3 || size >= 1e9) ? value.toExponential(3) : String(Number(value.toPrecision(7)));
}

/**
 * Whether a floating-point reading looks like a measurement: neither tiny nor huge, as the wrong order makes it.
 * A rule of thumb (common practice, no source): it only marks, nothing is left out.
 */
export function looksMeasured(bytes: Uint8Array, index: number, type: RegisterType, order: WordOrder): boolean {
  if (type !== 'float32' && type !== 'float64') return false;
  if (2 * index + 2 * registersOf({ type }) > bytes.length) return false;
  const size = Math.abs(Number(decodeRegisters(bytes.subarray(2 * index), { type, order })));
  return size >= 1e-3 && size < 1e7;
}

/** The address of a reading. */
export const addressAt = (
  { area, start }: RegisterBlock,
  index: number,
  type: RegisterType,
  order: WordOrder,
): ModbusAddress => ({
  area,
  address: start + index,
  type,
  order,
});
