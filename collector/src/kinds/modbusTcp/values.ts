/** What a device answered, as a sample of a tag. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { Status, decodeRegisters, scale } from '@wide-ledger/core';
import type { Sample } from '../kind.ts';
import { isBitArea } from './requests.ts';

/** The value of a tag in the answer to a request. @param start the first address that was asked for. */
export function sampleOf(tag: ConfiguredTag, start: number, data: Uint8Array | readonly boolean[]): Sample {
  const { address, scaling } = tag.reading;
  const at = address.address - start;
  const raw = isBitArea(address.area)
    ? Number(data[at])
    : decodeRegisters((data as Uint8Array).subarray(2 * at), address.type, address.order);
  const value = scale(raw, scaling && { factor: scaling.factor, offset: scaling.offset, places: scaling.places });
  if (tag.type === 'integer' && Number.isFinite(value) && !Number.isInteger(value)) return noWholeNumber(tag, value);
  const outside = tag.low !== null && tag.high !== null && (value < tag.low || value > tag.high);
  const status = !Number.isFinite(value)
    ? Status.BadSensorFailure
    : outside
      ? Status.UncertainEngineeringUnitsExceeded
      : Status.Good;
  return { tag: tag.id, value: Number.isFinite(value) ? value : null, status, sourceTime: null, fault: null };
}

/** Said once as the tag's fault, instead of being set aside by the server at every read. */
function noWholeNumber(tag: ConfiguredTag, value: number): Sample {
  const sentence = `The register holds ${value}, and ${tag.name} keeps whole numbers. Give the tag the type real, or read a register of whole numbers.`;
  const fault = { sentence, code: 'NO_WHOLE_NUMBER' };
  return { tag: tag.id, value: null, status: Status.BadTypeMismatch, sourceTime: null, fault };
}
