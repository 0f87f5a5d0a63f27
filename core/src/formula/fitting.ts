/** What a formula gives, as its tag can hold it. */
import type { Frame } from '../frame/frame.ts';
import { Status, isGood } from '../status/codes.ts';

/** What of a tag decides what it can hold. */
export interface Holder {
  readonly type: 'real' | 'integer' | 'boolean' | 'text' | 'state';
  readonly low: number | null;
  readonly high: number | null;
}

/**
 * The same samples, where their tag can hold them: of a number that is no whole one, in a tag of whole numbers, nothing is
 * left but Bad_TypeMismatch; booleans are 0 and 1, and 1 is whatever is not 0; what lies outside the tag's range is
 * Uncertain, as it is where it is read.
 */
export function fitted({ type, low, high }: Holder, frame: Frame): Frame {
  if (type === 'text') return frame;
  const values = Float64Array.from(frame.values);
  const status = Uint32Array.from(frame.status);
  const isWhole = type === 'integer' || type === 'state';
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (Number.isNaN(value)) continue;
    if (type === 'boolean') values[i] = Number(value !== 0);
    else if (isWhole && !Number.isSafeInteger(value)) {
      values[i] = NaN;
      status[i] = Status.BadTypeMismatch;
    } else if (low !== null && high !== null && (value < low || value > high) && isGood(status[i]!))
      status[i] = Status.UncertainEngineeringUnitsExceeded;
  }
  return { ...frame, values, status };
}
