/** Which requests read a set of tags: contiguous registers in one. Pure. */
import { groupIntoSpans, registersOf, type AddressSpan } from '@wide-ledger/core';
import type { ConfiguredTag, ModbusAddress } from '@wide-ledger/contract';

export type Area = ModbusAddress['area'];

/** Outcome of a request that the device answered: bytes or bits, or its exception. */
export type Answer = { readonly data: Uint8Array | readonly boolean[] } | { readonly exception: number };

/** A connection over which one request at a time can be asked. */
export interface Line {
  connect(): Promise<void>;
  /** @throws SourceAway when nothing comes back. */
  request(area: Area, start: number, length: number): Promise<Answer>;
  close(): void;
}

export interface ReadRequest extends AddressSpan<ConfiguredTag> {
  readonly area: Area;
}

/** Limits of one request: Modbus Application Protocol V1.1b3, 6.1 to 6.4. */
const MOST = { coil: 2000, discrete: 2000, input: 125, holding: 125 } as const;
/** Reading a few unused addresses along costs less than asking twice. */
const SPARE = { coil: 64, discrete: 64, input: 8, holding: 8 } as const;
const AREAS: readonly Area[] = ['coil', 'discrete', 'input', 'holding'];

export const isBitArea = (area: Area): boolean => area === 'coil' || area === 'discrete';

/** @param alone tags that are read by themselves, since their neighbours' request was refused. */
export function planRequests(tags: readonly ConfiguredTag[], alone: ReadonlySet<number>): ReadRequest[] {
  const place = ({ collection: { address } }: ConfiguredTag): { address: number; length: number } => ({
    address: address.address,
    length: isBitArea(address.area) ? 1 : registersOf(address.type),
  });
  return AREAS.flatMap((area) => {
    const here = tags.filter((tag) => tag.collection.address.area === area);
    const together = groupIntoSpans(
      here.filter((tag) => !alone.has(tag.id)),
      place,
      MOST[area],
      SPARE[area],
    );
    const apart = here
      .filter((tag) => alone.has(tag.id))
      .map((tag) => ({ start: place(tag).address, length: place(tag).length, items: [tag] }));
    return [...together, ...apart].map((span) => ({ ...span, area }));
  });
}
