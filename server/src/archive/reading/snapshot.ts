/** A store as one moment shows it, for questions about many tags at once. */
import type { Pool, PoolClient } from 'pg';
import { EMBEDDED } from '../../configuration/index.ts';
import { markOf } from '../journal/entries.ts';
import type { Stores } from '../stores/stores.ts';

export interface Snapshot {
  /** The store's ledger. */
  readonly client: PoolClient;
  /** The journal; of a further store it is asked after the snapshot was taken, and shows at least what the ledger misses. */
  readonly journal: Pool | PoolClient;
  /** Number of the last entry that the ledger holds. */
  readonly mark: number;
}

/** Does something with a snapshot, which ends with it. */
export async function inSnapshot<Result>(
  stores: Stores,
  store: number,
  work: (snapshot: Snapshot) => Promise<Result>,
): Promise<Result> {
  const client = await (await stores.pool(store)).connect();
  let broken = true;
  try {
    await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
    const mark = await markOf(client);
    const result = await work({ client, journal: store === EMBEDDED ? client : stores.home, mark });
    await client.query('COMMIT');
    broken = false;
    return result;
  } finally {
    client.release(broken);
  }
}
