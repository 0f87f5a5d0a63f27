/** The exchange wing: towards other systems. */
import type { Router } from 'express';
import type { Archive } from '../archive/index.ts';
import type { Configuration } from '../configuration/index.ts';
import type { Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { Imports } from './imports/imports.ts';
import { importRoutes } from './imports/routes.ts';

export interface Exchange {
  readonly routes: Router;
}

/** Opens the exchange wing: files in. */
export function openExchange(
  { settings, jobs }: Ground,
  { guard, logbook }: People,
  { catalogue }: Configuration,
  { stores, journal }: Archive,
): Exchange {
  const imports = new Imports(settings.WIDE_LEDGER_DATA, catalogue, stores, journal, jobs);
  return { routes: importRoutes(imports, logbook, guard) };
}
