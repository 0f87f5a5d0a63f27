/** From a value as a source holds it to a sample of a tag: scaled, put through its formula, and checked against what the tag keeps. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { MOST_WHOLE, Status, isGood, isWhole64, scale } from '@wide-ledger/core';
import { computed } from './computed.ts';
import type { Sample } from '../kinds/kind.ts';

/** A tag that has no value, for a reason that is its own. Said once as its fault, instead of being set aside at every read. */
export const noValue = ({ id }: ConfiguredTag, sentence: string, code: string): Sample => ({
  tag: id,
  value: null,
  status: Status.BadTypeMismatch,
  sourceTime: null,
  fault: { sentence, code },
});

/**
 * @param status as the source gave it; a Good one becomes Uncertain where the value lies outside the tag's range.
 * @param sourceTime microseconds; null where the source says none.
 */
export function sampleOfValue(
  tag: ConfiguredTag,
  value: number | bigint | string,
  status: number = Status.Good,
  sourceTime: number | null = null,
): Sample {
  if (tag.type === 'text') return { tag: tag.id, value: String(value), status, sourceTime, fault: null };
  if (typeof value === 'string') {
    const shown = value.slice(0, 40);
    const sentence = `The source holds "${shown}", which is not a number such as 1.25, and ${tag.name} keeps numbers. Let the source send numbers, or give the tag the type text.`;
    return { ...noValue(tag, sentence, 'NO_NUMBER'), sourceTime };
  }
  // A 64-bit integer stays one as long as nothing is computed from it.
  if (typeof value === 'bigint' && tag.type === 'integer' && !tag.reading.scaling && !tag.reading.formula)
    return isWhole64(value)
      ? { ...withinRange(tag, Number(value), status, sourceTime), value }
      : { ...tooLarge(tag, value), sourceTime };
  return sampleOfNumber(tag, Number(value), status, sourceTime);
}

function sampleOfNumber(tag: ConfiguredTag, raw: number, status: number, sourceTime: number | null): Sample {
  const { formula, scaling } = tag.reading;
  const value = formula === undefined ? scale(raw, scaling) : computed(formula, scale(raw, scaling));
  if (!Number.isFinite(value))
    return { tag: tag.id, value: null, status: Status.BadSensorFailure, sourceTime, fault: null };
  if (tag.type === 'integer' && !Number.isInteger(value)) {
    const sentence = `The source holds ${value}, and ${tag.name} keeps whole numbers. Give the tag the type real, or read what is a whole number.`;
    return { ...noValue(tag, sentence, 'NO_WHOLE_NUMBER'), sourceTime };
  }
  // As a double 2^63 is the first one that is too large.
  if (tag.type === 'integer' && (value >= MOST_WHOLE || value < -MOST_WHOLE))
    return { ...tooLarge(tag, value), sourceTime };
  return withinRange(tag, value, status, sourceTime);
}

const tooLarge = (tag: ConfiguredTag, value: number | bigint): Sample =>
  noValue(
    tag,
    `The source holds ${value}, and ${tag.name} keeps whole numbers of 64 bits with a sign (up to 9223372036854775807). Give the tag the type real.`,
    'TOO_LARGE',
  );

function withinRange(tag: ConfiguredTag, value: number, status: number, sourceTime: number | null): Sample {
  const outside = tag.low !== null && tag.high !== null && (value < tag.low || value > tag.high);
  const own = outside && isGood(status) ? Status.UncertainEngineeringUnitsExceeded : status;
  return { tag: tag.id, value, status: own, sourceTime, fault: null };
}
