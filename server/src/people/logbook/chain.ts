/** The chain of the logbook: what an entry's hash is made of. */
import { canonical, type Plain } from '@wide-ledger/core';
import { createHash } from 'node:crypto';

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

/** SHA-256, hexadecimal, over a value as canonical JSON. */
export const digestOf = (value: Plain): string => createHash('sha256').update(canonical(value)).digest('hex');
