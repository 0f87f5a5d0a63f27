/** The chain of the logbook: what an entry's hash is made of. */
import { canonical, type Plain } from '@wide-ledger/core';
import { createHash } from 'node:crypto';
import { Turns } from '../../ground/index.ts';

/** What an entry says, as it is hashed. `old` and `new` are canonical JSON. */
export interface Chained {
  readonly number: number;
  /** Microseconds since 1970. */
  readonly at: number;
  readonly who: string;
  readonly whence: string;
  readonly act: string;
  readonly kind: string | null;
  readonly item: number | null;
  readonly name: string | null;
  readonly sentence: string;
  readonly old: string | null;
  readonly new: string | null;
  readonly version: number | null;
}

/** What stands before the first entry. */
export const BEGINNING = Buffer.alloc(32);

/** SHA-256 over the hash of the entry before and everything that this one says. */
export function hashOf(entry: Chained, previous: Buffer): Buffer {
  return createHash('sha256')
    .update(previous)
    .update(canonical(entry as unknown as Plain))
    .digest();
}

/** Elements that are digested before others get their turn. */
const AT_ONCE = 500;

/** SHA-256, hexadecimal, over a list as canonical JSON; a long one lets others have their turn now and then. */
export async function digestOfList(list: readonly Plain[]): Promise<string> {
  const hash = createHash('sha256').update('[');
  const turns = new Turns(AT_ONCE);
  for (const [place, one] of list.entries()) {
    hash.update((place === 0 ? '' : ',') + canonical(one));
    await turns.after(1);
  }
  return hash.update(']').digest('hex');
}
