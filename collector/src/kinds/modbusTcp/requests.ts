/** Which requests read a set of tags: contiguous registers in one. Pure. */
import { groupIntoSpans, registersOf, type AddressSpan } from '@wide-ledger/core';
import type { ConfiguredTag, ModbusAddress } from '@wide-ledger/contract';

type Tag = ConfiguredTag<ModbusAddress>;

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

export interface ReadRequest extends AddressSpan<Tag> {
  readonly area: Area;
}

/** Limits of one request: Modbus Application Protocol V1.1b3, 6.1 to 6.4. */
const MOST = { coil: 2000, discrete: 2000, input: 125, holding: 125 } as const;
/** Reading a few unused addresses along costs less than asking twice. */
const SPARE = { coil: 64, discrete: 64, input: 8, holding: 8 } as const;
const AREAS: readonly Area[] = ['coil', 'discrete', 'input', 'holding'];

/** Whether an area holds single bits: coils and discrete inputs. */
export const isBitArea = (area: Area): boolean => area === 'coil' || area === 'discrete';

/** What was learnt of a device's addresses while it refused some. */
export interface Refusals {
  /** Tags that the device refuses, each asked for by itself so that it costs no other. */
  readonly refused: ReadonlySet<number>;
  /** Tags near refused addresses: nothing that nobody asked for is read along with them. */
  readonly strict: ReadonlySet<number>;
}

/** Nothing refused yet. */
export const NO_REFUSALS: Refusals = { refused: new Set(), strict: new Set() };

const placeOf = ({ reading: { address } }: Tag): { address: number; length: number } => ({
  address: address.address,
  length: isBitArea(address.area) ? 1 : registersOf(address.type),
});

/** As few requests as the limits, and what was learnt of the device, allow. */
export function planRequests(tags: readonly Tag[], { refused, strict }: Refusals): ReadRequest[] {
  return AREAS.flatMap((area) => {
    const here = tags.filter((tag) => tag.reading.address.area === area);
    const spans = (wanted: readonly Tag[], spare: number): AddressSpan<Tag>[] =>
      groupIntoSpans(wanted, placeOf, MOST[area], spare);
    const together = spans(
      here.filter(({ id }) => !refused.has(id) && !strict.has(id)),
      SPARE[area],
    );
    const close = spans(
      here.filter(({ id }) => strict.has(id) && !refused.has(id)),
      0,
    );
    const apart = here.filter(({ id }) => refused.has(id)).flatMap((tag) => spans([tag], 0));
    return [...together, ...close, ...apart].map((span) => ({ ...span, area }));
  });
}

/** Whether a request reads addresses that none of its tags lies at. */
export function readsAlong({ start, length, items }: ReadRequest): boolean {
  const asked = new Set<number>();
  for (const place of items.map(placeOf)) for (let i = 0; i < place.length; i++) asked.add(place.address + i);
  return Array.from({ length }, (_, i) => start + i).some((address) => !asked.has(address));
}
