/** The stores: the embedded one in the site's own database, and further PostgreSQL databases by URL. */
import pg from 'pg';
import type { Logger } from 'pino';
import type { Seal } from '../access/seal.ts';
import { openDatabase, openPool } from '../database/connect.ts';

/** The number of the store in the site's own database. */
export const EMBEDDED = 1;

export interface StoreRow {
  readonly id: number;
  readonly name: string;
  readonly sealed_url: string | null;
  readonly retention_months: number | null;
  /** Values before this time, in microseconds, are not kept any more; null: everything is. */
  readonly keeps_since: number | null;
}

/**
 * Pools to the stores, opened when first needed. Each thread that reads or writes has its own.
 */
export class Stores {
  private readonly pools = new Map<number, Promise<pg.Pool>>();

  constructor(
    readonly home: pg.Pool,
    private readonly seal: Seal,
    private readonly log: Logger,
  ) {}

  async list(): Promise<StoreRow[]> {
    const { rows } = await this.home.query<StoreRow>(
      'SELECT id, name, sealed_url, retention_months, keeps_since FROM store ORDER BY id',
    );
    return rows;
  }

  /** The database of a store. @throws Error when there is no such store. */
  pool(id: number): Promise<pg.Pool> {
    if (id === EMBEDDED) return Promise.resolve(this.home);
    const known = this.pools.get(id);
    if (known) return known;
    const opening = this.open(id);
    this.pools.set(id, opening);
    opening.catch(() => this.pools.delete(id));
    return opening;
  }

  private async open(id: number): Promise<pg.Pool> {
    const { rows } = await this.home.query<{ sealed_url: string }>('SELECT sealed_url FROM store WHERE id = $1', [id]);
    if (!rows[0]) throw new Error(`There is no store number ${id}.`);
    return openPool(this.seal.open(rows[0].sealed_url), this.log);
  }

  /** Closes the further stores' pools; the home pool belongs to whoever opened it. */
  async close(): Promise<void> {
    const pools = await Promise.allSettled(this.pools.values());
    for (const pool of pools) if (pool.status === 'fulfilled') await pool.value.end();
  }
}

/** What this site is called in the databases of its stores; made up when first asked for. */
export async function ownSite(home: pg.Pool): Promise<string> {
  await home.query('INSERT INTO store_owner (site) VALUES (gen_random_uuid()::text) ON CONFLICT DO NOTHING');
  const { rows } = await home.query<{ site: string }>('SELECT site FROM store_owner');
  return rows[0]!.site;
}

/**
 * Makes a database ready to be a store of a site: schema, and whose it is. Safe to repeat.
 * @throws Error with a sentence when it cannot be reached or belongs to another site.
 */
export async function prepareStore(
  url: string,
  site: string,
  mark: { tx: string; id: number },
  migrationsFolder: string,
  log: Logger,
): Promise<void> {
  const { pool } = await openDatabase(url, migrationsFolder, log);
  try {
    const { rows } = await pool.query<{ site: string }>(
      `INSERT INTO store_owner (site) VALUES ($1) ON CONFLICT (only_row) DO UPDATE SET site = store_owner.site RETURNING site`,
      [site],
    );
    if (rows[0]!.site !== site) {
      throw new Error('This database already is a store of another site. Give each site a database of its own.');
    }
    // A new store has no tags: what is in the journal already does not concern it.
    await pool.query(`UPDATE posting SET tx = $1::text::xid8, id = $2 WHERE tx = '0'`, [mark.tx, mark.id]);
  } finally {
    await pool.end();
  }
}
