/** The exchange wing: towards other systems. */
import type { SiteCard } from '@wide-ledger/contract';
import { hostname } from 'node:os';
import type { Archive } from '../archive/index.ts';
import type { Configuration } from '../configuration/index.ts';
import { Calls, type Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { Arrivals } from './arrivals/arrivals.ts';
import { arrivalCalls } from './arrivals/calls.ts';
import { comparingCalls } from './arrivals/comparingCalls.ts';
import { Imports } from './imports/imports.ts';
import { importCalls } from './imports/calls.ts';
import { linkCalls } from './links/calls.ts';
import { Links } from './links/links.ts';
import { reconcilingCalls } from './links/reconcilingCalls.ts';

export interface Exchange {
  readonly calls: Calls;
  /** Begins what goes on by itself. */
  start(): void;
  close(): Promise<void>;
}

/** Opens the exchange wing: files in, and links to and from other sites. @param version of this server. */
export async function openExchange(
  { settings, jobs, database, log }: Ground,
  { keys, logbook }: People,
  { catalogue, forcing, secrets }: Configuration,
  archive: Archive,
  version: string,
): Promise<Exchange> {
  const { pool } = database;
  const imports = new Imports(settings.WIDE_LEDGER_DATA, catalogue, archive, jobs);
  const { rows } = await pool.query<{ identity: string }>('SELECT identity::text AS identity FROM store_identity');
  const card: SiteCard = { identity: rows[0]!.identity, name: settings.WIDE_LEDGER_SITE, version };
  const arrivals = new Arrivals(pool, keys, card);
  const { WIDE_LEDGER_HOST: host, WIDE_LEDGER_PORT: port } = settings;
  const links = new Links(pool, catalogue, secrets, archive, card, `${hostname()} ${host}:${port}`, log);
  const calls = new Calls(
    importCalls(imports, logbook),
    arrivalCalls(forcing, archive, arrivals, logbook),
    linkCalls(forcing, secrets, links, arrivals, logbook),
    comparingCalls(forcing, archive, arrivals),
    reconcilingCalls({ home: pool, catalogue, archive, logbook }, links, jobs),
  );
  return { calls, start: () => links.start(), close: () => links.close() };
}
