/** The kinds of sources that there are. A new one is a file beside this and a line in the list. */
import { z } from 'zod';
import { itself, itselfAddressOf, itselfNode } from './itself.ts';
import { modbusTcp } from './modbusTcp.ts';
import { httpJson } from './httpJson.ts';
import { inMessage, messageNode } from './messages.ts';
import { files } from './files.ts';
import { ledger } from './ledger.ts';
import { mqtt } from './mqtt.ts';
import { opcUa } from './opcUa.ts';
import { sparkplug, sparkplugAddressOf, sparkplugNode } from './sparkplug.ts';
import { recordAddress } from './records.ts';
import { sql } from './sql.ts';

export { RUNGS, type KindDescription, type Offers, type RungName } from './describe.ts';
export * from './itself.ts';
export * from './modbusTcp.ts';
export * from './httpJson.ts';
export * from './messages.ts';
export * from './broker.ts';
export * from './mqtt.ts';
export * from './sparkplug.ts';
export * from './opcUa.ts';
export * from './records.ts';
export * from './ledger.ts';
export * from './sql.ts';
export * from './files.ts';
export * from './clock.ts';
export * from './recovery.ts';

export const KINDS = {
  'modbus-tcp': modbusTcp,
  'opc-ua': opcUa,
  mqtt,
  sparkplug,
  'http-json': httpJson,
  sql,
  files,
  ledger,
  collector: itself,
} as const;
export type SourceKind = keyof typeof KINDS;
export const SOURCE_KINDS = Object.keys(KINDS) as [SourceKind, ...SourceKind[]];

/** An address in a source of some kind, told from others by its fields; all records have the same. */
export const sourceAddress = z.union([
  modbusTcp.address,
  opcUa.address,
  mqtt.address,
  sparkplug.address,
  httpJson.address,
  recordAddress,
  ledger.address,
  itself.address,
]);
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
  if ('topic' in address) return mqtt.where(address);
  if ('metric' in address) return sparkplug.where(address);
  if ('request' in address) return httpJson.where(address);
  if ('series' in address) return address.series;
  if ('tag' in address) return address.tag;
  return 'figure' in address ? itself.where(address) : modbusTcp.where(address);
}

/** The address of a node in the tree of a source, or of an element of it. */
export function addressOfNode(kind: SourceKind, node: string, element: string): SourceAddress {
  if (kind === 'collector') return itselfAddressOf(node);
  if (kind === 'sparkplug') return sparkplugAddressOf(node);
  if (kind === 'ledger') return { tag: node };
  if (kind === 'sql' || kind === 'files') return { series: node };
  if (kind !== 'mqtt' && kind !== 'http-json') return { node, element };
  const { of, field } = inMessage(node);
  return kind === 'mqtt' ? { topic: of, field } : { request: of, field };
}

/** The node that an address leads to; null where its kind has no tree. */
export function nodeOf(address: SourceAddress): string | null {
  if ('node' in address) return address.node;
  if ('topic' in address) return messageNode(address.topic, address.field);
  if ('request' in address) return messageNode(address.request, address.field);
  if ('series' in address) return address.series;
  if ('metric' in address) return sparkplugNode(address);
  if ('tag' in address) return address.tag;
  return 'figure' in address ? itselfNode(address) : null;
}

/** Whether an address can be one in a source of a kind. */
export const addressFits = (kind: string, address: unknown): boolean =>
  kind in KINDS && KINDS[kind as SourceKind].address.safeParse(address).success;
