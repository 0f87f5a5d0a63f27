/** What a server says of a value, as samples of tags. */
import { Status, explain, opcUaFault, withoutInfoBits, type Span } from '@wide-ledger/core';
import type { DataValue } from 'node-opcua-client';
import { noValue, sampleOfValue } from '../../tagLife/conversion.ts';
import type { Fault, Sample, TagOf, Value } from '../kind.ts';
import type { OpcUa } from './library.ts';

/** Info type DataValue with its bit Overflow: OPC 10000-4, 7.39.1. */
const OVERFLOW = 0x0480;
/** Faults of the configuration rather than of what is measured: from BadNodeIdInvalid to BadNotReadable. */
const isMisaddressed = (status: number): boolean => {
  const code = status >>> 16;
  return code >= 0x8033 && code <= 0x803a;
};

/** Whether the server dropped values before this one, having more than the queue holds. */
export const hasOverflown = ({ statusCode: { value } }: DataValue): boolean => (value & OVERFLOW) === OVERFLOW;

/**
 * The stretch in which values of a tag were dropped, before the value that says so: the server lets go of the oldest in
 * its queue and marks the next one, so that they lie behind the last one that came. However long this process slept.
 * @param last when the tag's value before it is from. @returns by the clock of the tag's source; null where no times tell
 */
export function lostBefore(value: DataValue, last: number | null): Span | null {
  const to = timeOf(value);
  return to === null || last === null ? null : { from: Math.min(last, to), to };
}

/** When the value is from, in microseconds: by its source, else by its server; null where neither says. */
export function timeOf({ sourceTimestamp, sourcePicoseconds, serverTimestamp }: DataValue): number | null {
  // Picoseconds count in tens of nanoseconds below the microsecond as the library hands them on.
  const within = sourceTimestamp ? Math.trunc((sourcePicoseconds ?? 0) / 1_000_000) : 0;
  const time = (sourceTimestamp ?? serverTimestamp)?.getTime();
  return time === undefined || Number.isNaN(time) || time <= 0 ? null : time * 1000 + within;
}

/** A status that says why a tag has no value, as its fault. */
export function faultOf(status: { readonly value: number; readonly name: string }): Fault {
  return { sentence: explain(opcUaFault(status.value, status.name)), code: status.name };
}

export function sampleOf(tag: TagOf<'opc-ua'>, said: DataValue, library: OpcUa): Sample {
  const sourceTime = timeOf(said);
  const status = withoutInfoBits(said.statusCode.value);
  const common = { tag: tag.id, sourceTime };
  if (isMisaddressed(status)) return { ...common, value: null, status, fault: faultOf(said.statusCode) };
  if (status >>> 31 === 1) return { ...common, value: null, status, fault: null };
  const found = elementOf(said.value.value as unknown, tag.reading.address.element);
  if (found === undefined) {
    const missing = library.StatusCodes.BadIndexRangeNoData;
    return { ...common, value: null, status: Status.BadConfigurationError, fault: faultOf(missing) };
  }
  const plain = plainOf(found, said.value.dataType, library);
  const sample =
    plain === undefined
      ? noValue(tag, 'The node holds an array or a structure: name the element to be taken.', 'NO_SINGLE_VALUE')
      : plain === null
        ? { ...common, value: null, status: Status.BadNoData, fault: null }
        : sampleOfValue(tag, plain, status);
  return { ...sample, sourceTime };
}

/** One element of an array or a structure; the value itself where none is asked for. */
export function elementOf(value: unknown, path: string): unknown {
  let at: unknown = value;
  for (const [, index, field] of path.matchAll(/\[(\d+)\]|\.?([A-Za-z_]\w*)/g)) {
    if (at === null || at === undefined) return undefined;
    at = index === undefined ? fieldOf(at, field!) : (at as ArrayLike<unknown>)[Number(index)];
  }
  return at;
}

/** A field of a structure; the library spells them with a small first letter. */
function fieldOf(structure: unknown, field: string): unknown {
  const own = structure as Record<string, unknown>;
  return own[field] ?? own[field[0]!.toLowerCase() + field.slice(1)];
}

/** A value of the protocol as one that a tag can have. */
export function plainOf(value: unknown, dataType: number, { DataType }: OpcUa): Value | undefined {
  if (value === null || value === undefined) return null;
  if (typeof value === 'boolean') return Number(value);
  if (typeof value === 'number' || typeof value === 'bigint' || typeof value === 'string') return value;
  if (Array.isArray(value) && value.length === 2 && [DataType.Int64, DataType.UInt64].includes(dataType)) {
    const [high, low] = value as [number, number];
    const whole = (BigInt(high >>> 0) << 32n) | BigInt(low >>> 0);
    return dataType === Number(DataType.Int64) ? BigInt.asIntN(64, whole) : whole;
  }
  if (value instanceof Date) return value.toISOString();
  if (Buffer.isBuffer(value)) return value.toString('hex').toUpperCase();
  const { text } = value as { text?: unknown };
  if (typeof text === 'string') return text;
  return undefined;
}
