/** The kinds of sources that this collector knows. A new one is a folder beside this and a line in the table. */
import type { SourceKind } from '@wide-ledger/contract';
import type { Kind, KindOf } from './kind.ts';
import { files } from './files/kind.ts';
import { httpJson } from './httpJson/kind.ts';
import { itself } from './itself/kind.ts';
import { ledger } from './ledger/kind.ts';
import { modbusTcp } from './modbusTcp/kind.ts';
import { mqtt } from './mqtt/kind.ts';
import { opcUa } from './opcUa/kind.ts';
import { sparkplug } from './sparkplug/kind.ts';
import { sql } from './sql/kind.ts';

const KINDS: { readonly [Of in SourceKind]: Kind<Of> } = {
  'modbus-tcp': modbusTcp,
  'opc-ua': opcUa,
  mqtt,
  sparkplug,
  'http-json': httpJson,
  sql,
  files,
  ledger,
  collector: itself,
};

/** A kind is only ever given sources of its own: it is found by the kind that they say. */
export const kindOf: KindOf = ({ kind }) =>
  Object.hasOwn(KINDS, kind) ? (KINDS[kind as SourceKind] as unknown as Kind) : null;
