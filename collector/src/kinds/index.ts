/** The kinds of sources that this collector knows. A new one is a folder beside this and a line in the table. */
import type { Kind, KindOf } from './kind.ts';
import { modbusTcp } from './modbusTcp/kind.ts';

const KINDS: Readonly<Record<string, Kind>> = { 'modbus-tcp': modbusTcp };

export const kindOf: KindOf = ({ kind }) => (Object.hasOwn(KINDS, kind) ? KINDS[kind]! : null);
