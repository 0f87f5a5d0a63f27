/** A deadband that the server keeps, so that what stays within it is not sent (OPC 10000-4, 7.22.2). */
import { deadbandWidth, type Scaling } from '@wide-ledger/core';
import type { DataChangeFilter } from 'node-opcua-client';
import type { TagOf } from '../kind.ts';
import type { OpcUa } from './library.ts';

/** What a server says that keeps no deadband, or none for such a value. */
const NO_FILTER = [
  'BadMonitoredItemFilterInvalid',
  'BadMonitoredItemFilterUnsupported',
  'BadFilterNotAllowed',
  'BadDeadbandFilterInvalid',
];
export const isFilterRefused = (code: string): boolean => NO_FILTER.includes(code);

/** How many units of the tag one unit of the source is. */
function slopeOf(scaling: Scaling | undefined): number {
  if (!scaling) return 1;
  const { factor, ranges } = scaling;
  return Math.abs(ranges ? (ranges.high - ranges.low) / (ranges.rawHigh - ranges.rawLow) : factor);
}

/**
 * The width that a server is asked to keep for a tag, in the source's own unit; null where nothing is to be held back.
 * Always absolute: a percentage would be of the source's range, which need not be the tag's.
 */
export function serverWidth({ type, low, high, reading }: TagOf<'opc-ua'>): number | null {
  if (type === 'text' || type === 'boolean' || type === 'state') return null;
  // What a formula makes of a small change may be a large one.
  if (reading.formula !== undefined) return null;
  const range = low !== null && high !== null ? { low, high } : null;
  const width = deadbandWidth(reading.deadband, range) / slopeOf(reading.scaling);
  return width > 0 && Number.isFinite(width) ? width : null;
}

export const filterOf = (
  { DataChangeFilter, DataChangeTrigger, DeadbandType }: OpcUa,
  width: number,
): DataChangeFilter =>
  new DataChangeFilter({
    trigger: DataChangeTrigger.StatusValue,
    deadbandType: DeadbandType.Absolute,
    deadbandValue: width,
  });
