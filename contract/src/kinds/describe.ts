/** What is said of a kind of source, once and for all: forms, checks and the collector follow it. */
import type { z } from 'zod';

export const RUNGS = ['name', 'port', 'folder', 'answer', 'channel', 'sign-in', 'browse', 'value', 'clock'] as const;
export type RungName = (typeof RUNGS)[number];

/** What a source of a kind can do. */
export interface Offers {
  /** It is asked at intervals. */
  readonly poll: boolean;
  /** It tells changes by itself. */
  readonly subscribe: boolean;
  /** Its tags can be looked through. */
  readonly browse: boolean;
  /** It keeps a past that can be read back. */
  readonly history: boolean;
  readonly events: boolean;
  readonly write: boolean;
}

export interface KindDescription<Kind extends string, Connection extends z.ZodObject, Address extends z.ZodObject> {
  readonly kind: Kind;
  /** As people call it. */
  readonly words: string;
  readonly connection: Connection;
  readonly address: Address;
  /** Where a connection leads, in a few words. */
  readonly whither: (connection: z.infer<Connection>) => string;
  /** An address in a few words. */
  readonly where: (address: z.infer<Address>) => string;
  /** The steps of its path check, in their order. */
  readonly rungs: readonly RungName[];
  readonly offers: Offers;
}

/** A description with its own types kept. */
export const describeKind = <Kind extends string, Connection extends z.ZodObject, Address extends z.ZodObject>(
  description: KindDescription<Kind, Connection, Address>,
): KindDescription<Kind, Connection, Address> => description;
