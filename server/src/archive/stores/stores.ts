/** The databases of the stores: the embedded one in the site's own database, and further PostgreSQL databases by URL. */
import pg from 'pg';
import type { Logger } from 'pino';
import { EMBEDDED, type DeclaredStore } from '../../configuration/index.ts';
import type { Seal } from '@wide-ledger/vault';
import { openPool } from '../../ground/index.ts';

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

  async list(): Promise<DeclaredStore[]> {
    const { rows } = await this.home.query<DeclaredStore>(
      'SELECT id, name, sealed_url, identity, retention_months, keeps_since FROM store ORDER BY id',
    );
    return rows;
  }

  /** The database of a store. @throws Error when there is no such store, or another database answers at its address. */
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
    const { rows } = await this.home.query<{ name: string; sealed_url: string; identity: string | null }>(
      'SELECT name, sealed_url, identity FROM store WHERE id = $1',
      [id],
    );
    const [store] = rows;
    if (!store) throw new Error(`There is no store number ${id}.`);
    const pool = openPool(this.seal.open(store.sealed_url), this.log);
    try {
      const { rows: own } = await pool.query<{ identity: string }>('SELECT identity FROM store_identity');
      if (own[0]?.identity !== store.identity) {
        throw new Error(`At the address of ${store.name} answers another database than the one that was registered.`);
      }
      return pool;
    } catch (error) {
      await pool.end();
      throw error;
    }
  }

  /** Closes the further stores' pools; the home pool belongs to whoever opened it. */
  async close(): Promise<void> {
    const pools = await Promise.allSettled(this.pools.values());
    for (const pool of pools) if (pool.status === 'fulfilled') await pool.value.end();
  }
}
