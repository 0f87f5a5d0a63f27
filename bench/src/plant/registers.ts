/** What an instrument's number looks like in the device's memory, and what a reader makes of it again. */
import { encodeRegisters, scale } from '@wide-ledger/core';
import type { Point } from './points.ts';

/** Whether a point is a single bit. */
export const isBit = (point: Point): boolean => point.area === 'coil' || point.area === 'discrete';

/** The raw number: unscaled, rounded where the register holds whole numbers, kept within 12 bits by a converter. */
export function rawAt(point: Point, seconds: number): number {
  const { factor, offset } = point.scaling ?? { factor: 1, offset: 0 };
  const raw = (point.at(seconds) - offset) / factor;
  return point.register.startsWith('float') ? raw : Math.round(raw);
}

/** The bytes of the point's registers at a time. */
export const wireAt = (point: Point, seconds: number): Uint8Array =>
  encodeRegisters(rawAt(point, seconds), point.register, point.order);

/**
 * The value that a reader archives at a time: what the registers and the scaling make of it. Computed without the
 * bytes, which a test holds against the way through them: the past has twenty million of these.
 */
export function archivedAt(point: Point, seconds: number): number {
  if (isBit(point)) return point.at(seconds) === 0 ? 0 : 1;
  const raw = rawAt(point, seconds);
  return scale(point.register === 'float32' ? Math.fround(raw) : raw, point.scaling);
}
