/** The exchange wing: towards other systems. */
import type { Desk, LinkAccount, SiteAccount, SiteCard } from '@wide-ledger/contract';
import { hostname } from 'node:os';
import type { Archive } from '../archive/index.ts';
import type { Configuration } from '../configuration/index.ts';
import { Calls, Shared, type Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { Arrivals } from './arrivals/arrivals.ts';
import { arrivalCalls } from './arrivals/calls.ts';
import { paperCalls } from './arrivals/papers/calls.ts';
import { comparingCalls } from './arrivals/comparingCalls.ts';
import { Imports } from './imports/imports.ts';
import { importCalls } from './imports/calls.ts';
import { accountsOf } from './links/accounts.ts';
import { linkCalls } from './links/calls.ts';
import { FarEnds } from './links/far/farEnds.ts';
import { Outward } from './links/far/outward.ts';
import { LinkLog } from './links/linkLog.ts';
import { Links } from './links/links.ts';
import { pathCalls } from './links/pathCalls.ts';
import { reconcilingCalls } from './links/reconcilingCalls.ts';

type LinkTrouble = Desk['links'][number];

/** Every collector asks every second. */
const ACCOUNTS_MILLISECONDS = 5000;

export interface Exchange {
  readonly calls: Calls;
  /** Links of both directions with which something is wrong. */
  troubles(): Promise<LinkTrouble[]>;
  /** How links of both directions stand, as figures: asked every second, looked at every few. */
  accounts(): Promise<readonly LinkAccount[]>;
  /** The zones of the sites whose history arrives. */
  zones(): Promise<string[]>;
  /** Begins what goes on by itself. @param account how this site is, for the sites to which its history goes. */
  start(account: () => Promise<SiteAccount>): void;
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
  const { WIDE_LEDGER_HOST: host, WIDE_LEDGER_PORT: port, WIDE_LEDGER_DATA: data, WIDE_LEDGER_ZONE: zone } = settings;
  const arrivals = new Arrivals(pool, keys, card, data);
  const outward = new Outward(settings.WIDE_LEDGER_PROXY);
  const ends = new FarEnds(pool, catalogue, secrets, archive, card, data, outward);
  const told = new LinkLog(pool, log);
  const links = new Links(pool, catalogue, ends, archive, jobs, told, `${hostname()} ${host}:${port}`, zone, log);
  const accounts = new Shared(ACCOUNTS_MILLISECONDS, () => accountsOf(links, arrivals));
  const calls = new Calls(
    importCalls(imports, logbook),
    arrivalCalls(forcing, archive, arrivals, logbook),
    linkCalls(forcing, secrets, links, arrivals, logbook),
    comparingCalls(forcing, archive, arrivals),
    paperCalls(forcing, archive, arrivals),
    pathCalls(catalogue, archive, links, arrivals),
    reconcilingCalls({ home: pool, catalogue, archive, logbook, zone }, links, jobs),
  );
  return {
    calls,
    troubles: async () => (await Promise.all([links.troubles(), arrivals.troubles()])).flat(),
    accounts: () => accounts.get(),
    zones: () => arrivals.zones(),
    start: (account) => {
      links.account = account;
      links.start();
    },
    close: async () => {
      await links.close();
      await outward.close();
    },
  };
}
