/** From a value as a source holds it to a sample of a tag: scaled, and checked against what the tag keeps. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { Status, isGood, scale } from '@wide-ledger/core';
import type { Sample } from '../kinds/kind.ts';

/** A tag that has no value, for a reason that is its own. Said once as its fault, instead of being set aside at every read. */
export const noValue = ({ id }: ConfiguredTag, sentence: string, code: string): Sample => ({
  tag: id,
  value: null,
  status: Status.BadTypeMismatch,
  sourceTime: null,
  fault: { sentence, code },
});

/** @param status as the source gave it; a Good one becomes Uncertain where the value lies outside the tag's range. */
export function sampleOfValue(
  tag: ConfiguredTag,
  value: number | bigint | string,
  status: number = Status.Good,
): Sample {
  const common = { tag: tag.id, sourceTime: null, fault: null };
  if (tag.type === 'text') return { ...common, value: String(value), status };
  if (typeof value === 'string') {
    const shown = value.slice(0, 40);
    const sentence = `The source holds a text ("${shown}"), and ${tag.name} keeps numbers. Give the tag the type text.`;
    return noValue(tag, sentence, 'NO_NUMBER');
  }
  // A 64-bit integer stays one as long as nothing is computed from it.
  if (typeof value === 'bigint' && tag.type === 'integer' && !tag.reading.scaling) return { ...common, value, status };
  return sampleOfNumber(tag, Number(value), status);
}

function sampleOfNumber(tag: ConfiguredTag, raw: number, status: number): Sample {
  const value = scale(raw, tag.reading.scaling);
  const common = { tag: tag.id, sourceTime: null, fault: null };
  if (!Number.isFinite(value)) return { ...common, value: null, status: Status.BadSensorFailure };
  if (tag.type === 'integer' && !Number.isInteger(value)) {
    const sentence = `The source holds ${value}, and ${tag.name} keeps whole numbers. Give the tag the type real, or read what is a whole number.`;
    return noValue(tag, sentence, 'NO_WHOLE_NUMBER');
  }
  const outside = tag.low !== null && tag.high !== null && (value < tag.low || value > tag.high);
  return { ...common, value, status: outside && isGood(status) ? Status.UncertainEngineeringUnitsExceeded : status };
}
