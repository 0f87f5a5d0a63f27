/** A store's mark: how far its posting is, and the lock under which everything that posting relies on is changed. */
import type { PoolClient } from 'pg';

export interface Mark {
  /** Number of the last posted entry. */
  readonly entry: number;
  /** Grows whenever months of tags come to be kept elsewhere, or go: what is remembered of them is void then. */
  readonly layout: number;
}

/**
 * Locks the mark until the end of the transaction. Meanwhile nobody else posts to this store, and no tag moves to or from it.
 * @returns null where somebody else has the mark and it is not to be waited for.
 */
export async function takeMark(client: PoolClient, { wait }: { wait: boolean }): Promise<Mark | null> {
  const { rows } = await client.query<Mark>(
    `SELECT entry, layout FROM posting WHERE entry IS NOT NULL FOR UPDATE ${wait ? '' : 'SKIP LOCKED'}`,
  );
  return rows[0] ?? null;
}

/**
 * Says that months of tags are kept elsewhere from this transaction on, or no more. To be called by whoever holds the
 * mark and makes a tag this store's, gives a month a table of its own, or drops one: any server's posting may remember
 * what was before.
 */
export async function changeLayout(client: PoolClient): Promise<void> {
  await client.query('UPDATE posting SET layout = layout + 1');
}
