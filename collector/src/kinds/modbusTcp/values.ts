/** What a device answered, as a sample of a tag. */
import { decodeRegisters } from '@wide-ledger/core';
import { sampleOfValue } from '../../tagLife/conversion.ts';
import type { Sample, TagOf } from '../kind.ts';
import { isBitArea } from './requests.ts';

/** The value of a tag in the answer to a request. @param start the first address that was asked for. */
export function sampleOf(tag: TagOf<'modbus-tcp'>, start: number, data: Uint8Array | readonly boolean[]): Sample {
  const { address } = tag.reading;
  const at = address.address - start;
  const raw = isBitArea(address.area)
    ? Number(data[at])
    : decodeRegisters((data as Uint8Array).subarray(2 * at), address);
  return sampleOfValue(tag, raw);
}
