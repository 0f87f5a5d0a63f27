/** Numbers of the archive as people and programs get them. */
import type { SampleOutput } from '@wide-ledger/contract';
import { describeStatus, formatInstant } from '@wide-ledger/core';
import type { TagRow } from '../tags/store.ts';

type Typed = Pick<TagRow, 'type' | 'states'>;

/**
 * A value in the tag's own type: boolean, text, a state's name, or a number. JSON has no infinities: they are
 * written as text, and "no value" as null.
 */
export function presentValue(tag: Typed, value: number, text: string | null): SampleOutput['value'] {
  if (tag.type === 'text') return text;
  if (Number.isNaN(value)) return null;
  if (tag.type === 'boolean') return value !== 0;
  if (tag.type === 'state') return tag.states?.[String(value)] ?? value;
  return Number.isFinite(value) ? value : String(value);
}

export function presentSample(
  tag: Typed,
  time: number,
  value: number,
  text: string | null,
  status: number,
): SampleOutput {
  return { time: formatInstant(time), value: presentValue(tag, value, text), status, quality: describeStatus(status) };
}
