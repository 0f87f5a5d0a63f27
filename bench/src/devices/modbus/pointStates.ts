import { isBit, rawAt, wireAt } from '../../plant/registers.ts';
import type { Point } from '../../plant/thornmere.ts';
import type { PointState } from '../device.ts';

/** A point as the Bench screen shows it at a time. */
export const pointState = (point: Point, seconds: number): PointState => ({
  name: point.tag,
  address: isBit(point)
    ? `${point.area} ${point.address}`
    : `${point.area} ${point.address} · ${point.register} ${point.order}`,
  raw: isBit(point) ? String(point.at(seconds)) : Buffer.from(wireAt(point, seconds)).toString('hex').toUpperCase(),
  value: String(Math.round(rawAt(point, seconds) * 1000) / 1000),
});
