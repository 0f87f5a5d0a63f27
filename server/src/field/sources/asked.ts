/** A source in force as collectors are asked about it. */
import type { NewSource } from '@wide-ledger/contract';
import type { SourceRow } from '../../configuration/index.ts';

export const asSource = ({ name, kind, connection, collector }: SourceRow): NewSource =>
  // Its kind and its connection belong together: they were checked when it was put in force.
  ({ name, kind, connection, ...(collector === null ? {} : { collector }) }) as NewSource;
