/** The exchange wing: towards other systems. */
import type { Archive } from '../archive/index.ts';
import type { Configuration } from '../configuration/index.ts';
import { Calls, type Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { Imports } from './imports/imports.ts';
import { importCalls } from './imports/calls.ts';

export interface Exchange {
  readonly calls: Calls;
}

/** Opens the exchange wing: files in. */
export function openExchange(
  { settings, jobs }: Ground,
  { logbook }: People,
  { catalogue }: Configuration,
  archive: Archive,
): Exchange {
  const imports = new Imports(settings.WIDE_LEDGER_DATA, catalogue, archive, jobs);
  return { calls: importCalls(imports, logbook) };
}
