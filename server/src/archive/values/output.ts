/** Numbers of the archive as people and programs get them. */
import type { SampleOutput } from '@wide-ledger/contract';
import { describeStatus, formatInstant, isBad, textAt, wholeAt, type Frame } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';

export type Typed = Pick<TagRow, 'type' | 'states'>;

/** Figures about a tag, such as a count of its values, are plain numbers whatever the tag's type. */
export const PLAIN: Typed = { type: 'real', states: null };

/**
 * A value in the tag's own type: boolean, text, a state's name, or a number. JSON has no infinities and no NaN, and its
 * readers no integers beyond 2^53 − 1: these are written as text, and "no value" as null. docs/formats.md has the table.
 * @param status with a Bad one NaN says that there is no value; a real value that is Good or Uncertain is NaN itself.
 */
export function outputValue(
  tag: Typed,
  value: number,
  text: string | null,
  status: number,
  whole: bigint | null = null,
): SampleOutput['value'] {
  if (tag.type === 'text') return text;
  if (Number.isNaN(value)) return tag.type === 'real' && !isBad(status) ? 'NaN' : null;
  if (tag.type === 'boolean') return value !== 0;
  if (tag.type === 'state') return tag.states?.[String(value)] ?? value;
  if (tag.type === 'integer' && !Number.isSafeInteger(value) && Number.isInteger(value)) {
    // Older entries may hold numbers beyond 64 bits, beside which no whole number stands.
    return (whole !== null && Math.abs(value) <= 2 ** 63 ? whole : BigInt(value)).toString();
  }
  return Number.isFinite(value) ? value : String(value);
}

/** A sample's value in its tag's type: number, text, true or false; null where it has none. */
export const valueAt = (tag: Typed, frame: Frame, index: number): SampleOutput['value'] =>
  outputValue(tag, frame.values[index]!, textAt(frame, index), frame.status[index]!, wholeAt(frame, index));

/** A sample as answers show it: time as an instant in UTC, value, status and its words. */
export function outputSample(
  tag: Typed,
  time: number,
  value: number,
  text: string | null,
  status: number,
  whole: bigint | null = null,
): SampleOutput {
  return {
    time: formatInstant(time),
    value: outputValue(tag, value, text, status, whole),
    status,
    quality: describeStatus(status),
  };
}
