/** The kinds of sources that there are. A new one is a file beside this and a line in the list. */
import { modbusTcp } from './modbusTcp.ts';

export { RUNGS, type KindDescription, type Offers, type RungName } from './describe.ts';
export * from './modbusTcp.ts';

export const KINDS = { 'modbus-tcp': modbusTcp } as const;
export type SourceKind = keyof typeof KINDS;
export const SOURCE_KINDS = Object.keys(KINDS) as [SourceKind, ...SourceKind[]];

/** An address in a source of some kind. */
export const sourceAddress = modbusTcp.address;
