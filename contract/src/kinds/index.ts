/** The kinds of sources that there are. A new one is a file beside this and a line in the list. */
import { z } from 'zod';
import { itself, itselfAddressOf, itselfNode } from './itself.ts';
import { modbusTcp } from './modbusTcp.ts';
import { opcUa } from './opcUa.ts';

export { RUNGS, type KindDescription, type Offers, type RungName } from './describe.ts';
export * from './itself.ts';
export * from './modbusTcp.ts';
export * from './opcUa.ts';
export * from './recovery.ts';

export const KINDS = { 'modbus-tcp': modbusTcp, 'opc-ua': opcUa, collector: itself } as const;
export type SourceKind = keyof typeof KINDS;
export const SOURCE_KINDS = Object.keys(KINDS) as [SourceKind, ...SourceKind[]];

/** An address in a source of some kind: no two kinds have the same fields. */
export const sourceAddress = z.union([modbusTcp.address, opcUa.address, itself.address]);
export type SourceAddress = z.infer<typeof sourceAddress>;

/** A connection to a source of some kind. */
export type SourceConnection = z.infer<(typeof KINDS)[SourceKind]['connection']>;

/** Where the connection of a source leads, in a few words. */
export const whither = ({ kind, connection }: { kind: SourceKind; connection: SourceConnection }): string =>
  // Each kind is only given connections of its own.
  (KINDS[kind].whither as (connection: SourceConnection) => string)(connection);

/** An address in a few words, whichever kind it is of. */
export function where(address: SourceAddress): string {
  if ('node' in address) return opcUa.where(address);
  return 'figure' in address ? itself.where(address) : modbusTcp.where(address);
}

/** The address of a node in the tree of a source, or of an element of it. */
export const addressOfNode = (kind: SourceKind, node: string, element: string): SourceAddress =>
  kind === 'collector' ? itselfAddressOf(node) : { node, element };

/** The node that an address leads to; null where its kind has no tree. */
export function nodeOf(address: SourceAddress): string | null {
  if ('node' in address) return address.node;
  return 'figure' in address ? itselfNode(address) : null;
}

/** Whether an address can be one in a source of a kind. */
export const addressFits = (kind: string, address: unknown): boolean =>
  kind in KINDS && KINDS[kind as SourceKind].address.safeParse(address).success;
