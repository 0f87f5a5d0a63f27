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

/** How requests are made up, in registers; of single bits sixteen times as many. */
export interface RequestLimits {
  /** Of one request: Modbus Application Protocol V1.1b3, 6.1 to 6.4, allows 125 registers or 2,000 bits. */
  readonly most: number;
  /** Unused registers that are read along, since that costs less than asking twice. */
  readonly gap: number;
}

/** What is allowed, and what most devices bear. */
export const USUAL_LIMITS: RequestLimits = { most: 125, gap: 8 };

/** As many bits as an area's addresses stand for. */
const perRegister = (area: Area): number => (isBitArea(area) ? 16 : 1);
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
  length: isBitArea(address.area) ? 1 : registersOf(address),
});

/** As few requests as the limits, and what was learnt of the device, allow. */
export function planRequests(
  tags: readonly Tag[],
  { refused, strict }: Refusals,
  { most, gap }: RequestLimits = USUAL_LIMITS,
): ReadRequest[] {
  return AREAS.flatMap((area) => {
    const here = tags.filter((tag) => tag.reading.address.area === area);
    const spans = (wanted: readonly Tag[], spare: number): AddressSpan<Tag>[] =>
      groupIntoSpans(wanted, placeOf, most * perRegister(area), spare);
    const together = spans(
      here.filter(({ id }) => !refused.has(id) && !strict.has(id)),
      gap * perRegister(area),
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
