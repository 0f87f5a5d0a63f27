/** Making databases ready to be stores of this site, and telling whose they are. */
import pg from 'pg';
import type { Logger } from 'pino';
import { EMBEDDED } from '../../configuration/index.ts';
import type { Seal } from '@wide-ledger/vault';
import { openDatabase } from '../../ground/index.ts';

interface Identity {
  readonly identity: string;
  readonly site: string;
}

/** Gives the site's own database its identity, and the site its name among stores; both are made up once. */
export async function identifyHome(home: pg.Pool): Promise<Identity> {
  await home.query('INSERT INTO store_identity (site) VALUES (gen_random_uuid()::text) ON CONFLICT DO NOTHING');
  const { rows } = await home.query<Identity>('SELECT identity, site FROM store_identity');
  await home.query('UPDATE store SET identity = $2 WHERE id = $1 AND identity IS DISTINCT FROM $2', [
    EMBEDDED,
    rows[0]!.identity,
  ]);
  return rows[0]!;
}

/**
 * Brings the further stores' schema up to date, where they answer, and translates their marks into the journal's own
 * order. One that does not answer is left for the next start.
 * @returns names of the stores that did not answer, with the reason.
 */
export async function prepareKnownStores(
  home: pg.Pool,
  seal: Seal,
  schemaFolder: string,
  log: Logger,
): Promise<{ name: string; failure: string }[]> {
  const { rows } = await home.query<{ id: number; name: string; sealed_url: string; identity: string | null }>(
    'SELECT id, name, sealed_url, identity FROM store WHERE id <> $1 ORDER BY id',
    [EMBEDDED],
  );
  const silent: { name: string; failure: string }[] = [];
  for (const { id, name, sealed_url, identity } of rows) {
    try {
      const { pool } = await openDatabase(seal.open(sealed_url), schemaFolder, log);
      try {
        await translateMark(home, pool);
        // A store that was registered before stores had identities is known by the one that it has now.
        if (identity === null) {
          await home.query('UPDATE store SET identity = $2 WHERE id = $1', [id, (await identityOf(pool))!.identity]);
        }
      } finally {
        await pool.end();
      }
    } catch (error) {
      silent.push({ name, failure: (error as Error).message });
    }
  }
  return silent;
}

async function identityOf(pool: pg.Pool): Promise<Identity | undefined> {
  const { rows } = await pool.query<Identity>('SELECT identity, site FROM store_identity');
  return rows[0];
}

/** The mark of a store that was last posted to when transactions ordered the journal. */
async function translateMark(home: pg.Pool, store: pg.Pool): Promise<void> {
  const { rows } = await store.query<{ before_tx: string; before_id: number }>(
    'SELECT before_tx::text AS before_tx, before_id FROM posting WHERE entry IS NULL',
  );
  if (!rows[0]) return;
  const { rows: found } = await home.query<{ number: number }>(
    `SELECT coalesce((SELECT max(number) FROM journal_order_before WHERE (tx, id) <= ($1::text::xid8, $2::bigint)),
                     (SELECT min(number) - 1 FROM journal_order_before), journal_last()) AS number`,
    [rows[0].before_tx, rows[0].before_id],
  );
  await store.query('UPDATE posting SET entry = $1 WHERE entry IS NULL', [found[0]!.number]);
}

/** A database that cannot become a store of this site; the message says why, in a sentence. */
export class UnfitStore extends Error {}

/**
 * Makes a database ready to be a store of this site: schema, whose it is, and from which entry on it is posted to.
 * Nothing is changed in a database that is refused. Safe to repeat after it was cut off.
 * @returns its identity, by which it is known from then on.
 * @throws UnfitStore when it is a store already, of this site or of another, or the home of a site.
 * @throws Error when it cannot be reached.
 */
export async function prepareStore(url: string, home: pg.Pool, schemaFolder: string, log: Logger): Promise<string> {
  const own = await identifyHome(home);
  await refuseForeign(url, home, own);
  const { pool } = await openDatabase(url, schemaFolder, log);
  try {
    const { rows } = await pool.query<Identity>(
      `INSERT INTO store_identity (site) VALUES ($1)
       ON CONFLICT (only_row) DO UPDATE SET site = store_identity.site RETURNING identity, site`,
      [own.site],
    );
    if (rows[0]!.site !== own.site) throw new UnfitStore(OTHER_SITE);
    // A new store has no tags: what is in the journal already does not concern it.
    await pool.query('UPDATE posting SET entry = $1 WHERE entry = 0', [await lastEntry(home)]);
    return rows[0]!.identity;
  } finally {
    await pool.end();
  }
}

const OTHER_SITE = 'This database already is a store of another site. Give each site a database of its own.';

const lastEntry = async (home: pg.Pool): Promise<number> =>
  (await home.query<{ last: number }>('SELECT journal_last() AS last')).rows[0]!.last;

async function refuseForeign(url: string, home: pg.Pool, own: Identity): Promise<void> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 20_000 });
  client.on('error', () => undefined);
  await client.connect();
  try {
    const { rows: tables } = await client.query<{
      identity: string | null;
      owner: string | null;
      account: string | null;
    }>(
      `SELECT to_regclass('store_identity') AS identity, to_regclass('store_owner') AS owner, to_regclass('account') AS account`,
    );
    const { identity, owner, account } = tables[0]!;
    if (identity !== null) {
      const { rows } = await client.query<Identity>('SELECT identity, site FROM store_identity');
      const [known] = rows;
      if (known?.identity === own.identity) {
        throw new UnfitStore('This is the site’s own database: the embedded store is in it already.');
      }
      if (known) {
        const { rows: stores } = await home.query<{ name: string }>('SELECT name FROM store WHERE identity = $1', [
          known.identity,
        ]);
        if (stores[0]) throw new UnfitStore(`This database is registered already, as the store ${stores[0].name}.`);
        if (known.site !== own.site) throw new UnfitStore(OTHER_SITE);
      }
    } else if (owner !== null) {
      const { rows } = await client.query<{ site: string }>('SELECT site FROM store_owner');
      if (rows[0] && rows[0].site !== own.site) throw new UnfitStore(OTHER_SITE);
    }
    if (account !== null && (await client.query('SELECT FROM account LIMIT 1')).rows.length > 0) {
      throw new UnfitStore('This database is the home of a site: people sign in there. Give the store one of its own.');
    }
  } finally {
    await client.end();
  }
}
