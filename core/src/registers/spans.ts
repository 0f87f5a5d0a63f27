/** Grouping addresses so that neighbours are read in one request. */

export interface AddressSpan<Item> {
  readonly start: number;
  readonly length: number;
  readonly items: readonly Item[];
}

/**
 * Groups items into as few contiguous spans as the limits allow.
 * @param most longest span of one request (125 registers, 2,000 bits: Modbus Application Protocol V1.1b3).
 * @param spare unused addresses worth reading along rather than asking again.
 */
export function groupIntoSpans<Item>(
  items: readonly Item[],
  place: (item: Item) => { address: number; length: number },
  most: number,
  spare: number,
): AddressSpan<Item>[] {
  const sorted = [...items].sort((a, b) => place(a).address - place(b).address);
  const spans: { start: number; length: number; items: Item[] }[] = [];
  for (const item of sorted) {
    const { address, length } = place(item);
    const last = spans.at(-1);
    const end = address + length;
    if (last && address <= last.start + last.length + spare && end - last.start <= most) {
      last.length = Math.max(last.length, end - last.start);
      last.items.push(item);
    } else {
      spans.push({ start: address, length, items: [item] });
    }
  }
  return spans;
}
