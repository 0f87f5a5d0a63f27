/** From a number as a source holds it to a sample of a tag: scaled, and checked against what the tag keeps. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { Status, isGood, scale } from '@wide-ledger/core';
import type { Sample } from '../kinds/kind.ts';

/** @param status as the source gave it; a Good one becomes Uncertain where the value lies outside the tag's range. */
export function sampleOfNumber(tag: ConfiguredTag, raw: number, status: number = Status.Good): Sample {
  const { scaling } = tag.reading;
  const value = scale(raw, scaling && { factor: scaling.factor, offset: scaling.offset, places: scaling.places });
  const common = { tag: tag.id, sourceTime: null, fault: null };
  if (!Number.isFinite(value)) return { ...common, value: null, status: Status.BadSensorFailure };
  if (tag.type === 'integer' && !Number.isInteger(value)) return noWholeNumber(tag, value);
  const outside = tag.low !== null && tag.high !== null && (value < tag.low || value > tag.high);
  return { ...common, value, status: outside && isGood(status) ? Status.UncertainEngineeringUnitsExceeded : status };
}

/** Said once as the tag's fault, instead of being set aside by the server at every read. */
function noWholeNumber(tag: ConfiguredTag, value: number): Sample {
  const sentence = `The source holds ${value}, and ${tag.name} keeps whole numbers. Give the tag the type real, or read what is a whole number.`;
  const fault = { sentence, code: 'NO_WHOLE_NUMBER' };
  return { tag: tag.id, value: null, status: Status.BadTypeMismatch, sourceTime: null, fault };
}
