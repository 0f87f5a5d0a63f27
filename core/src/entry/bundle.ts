/**
 * Several entries in one piece, for who has many to deliver: 'WLB1', then for each entry its length (uint32, big-endian)
 * and its bytes. They are taken all or none, in their order.
 */
import { FrameError } from '../frame/bytes.ts';

const MAGIC = [0x57, 0x4c, 0x42, 0x31];
const LENGTH = 4;

/** Whether bytes are a bundle rather than an entry. */
export const isBundle = (bytes: Uint8Array): boolean =>
  bytes.length >= MAGIC.length && MAGIC.every((byte, i) => bytes[i] === byte);

/** @param entries packed ones, in their order. */
export function packBundle(entries: readonly Uint8Array[]): Uint8Array {
  const bundle = new Uint8Array(entries.reduce((sum, { length }) => sum + LENGTH + length, MAGIC.length));
  bundle.set(MAGIC);
  const view = new DataView(bundle.buffer);
  let at = MAGIC.length;
  for (const entry of entries) {
    view.setUint32(at, entry.length);
    bundle.set(entry, at + LENGTH);
    at += LENGTH + entry.length;
  }
  return bundle;
}

/** The packed entries of a bundle. @throws FrameError when it is none, or was cut off. */
export function unpackBundle(bundle: Uint8Array): Uint8Array[] {
  if (!isBundle(bundle)) throw new FrameError('it does not start with "WLB1"');
  const view = new DataView(bundle.buffer, bundle.byteOffset, bundle.byteLength);
  const entries: Uint8Array[] = [];
  for (let at = MAGIC.length; at < bundle.length;) {
    const begin = at + LENGTH;
    const end = begin <= bundle.length ? begin + view.getUint32(at) : Infinity;
    if (end > bundle.length) throw new FrameError(`its entry ${entries.length + 1} is cut off`);
    entries.push(bundle.subarray(begin, end));
    at = end;
  }
  return entries;
}
