import { decodeRegisters } from '@wide-ledger/core';
import { isBit, rawAt, wireAt } from '../../plant/registers.ts';
import type { Point } from '../../plant/points.ts';
import type { PointState } from '../device.ts';

/** A point as the Bench screen shows it at a time. @param held what was written to it; null where nothing was. */
export function pointState(point: Point, seconds: number, held: Uint8Array | boolean | null = null): PointState {
  const { tag, area, address, register, order } = point;
  if (isBit(point)) {
    const bit = String(Number(held ?? point.at(seconds)));
    return { name: tag, address: `${area} ${address}`, raw: bit, value: bit };
  }
  const written = held as Uint8Array | null;
  const value = written ? Number(decodeRegisters(written, { type: register, order })) : rawAt(point, seconds);
  return {
    name: tag,
    address: `${area} ${address} · ${register} ${order}`,
    raw: Buffer.from(written ?? wireAt(point, seconds))
      .toString('hex')
      .toUpperCase(),
    value: String(Math.round(value * 1000) / 1000),
  };
}
