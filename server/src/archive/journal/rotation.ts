/** The journal's days leave by dropping their tables, once every store has posted them and a set time has passed. */
import { inTransaction } from '../../ground/index.ts';
import type { Stores } from '../stores/stores.ts';
import { markOf } from './entries.ts';

/** A day's table is dropped when nobody reads it; those who come meanwhile wait for no longer than this. */
const LOCK_MILLISECONDS = 2_000;

/**
 * The oldest day (YYYYMMDD) before another one that every store has posted; null where there is none. Days go in their
 * order, so that what is left of the journal is never broken in the middle.
 * @param neededAfter the number behind which others than the stores need entries still; infinite: none are needed.
 * @throws Error when a store does not answer: what it has posted is not known, so everything stays.
 */
export async function oldestDay(stores: Stores, before: string, neededAfter: number): Promise<string | null> {
  const { rows } = await stores.home.query<{ day: string }>(
    `SELECT substring(relname FROM '[0-9]{8}$') AS day FROM pg_class
     WHERE relkind = 'r' AND relname ~ '^journal_entry_[0-9]{8}$' AND substring(relname FROM '[0-9]{8}$') < $1 ORDER BY 1 LIMIT 1`,
    [before],
  );
  const day = rows[0]?.day;
  if (day === undefined) return null;
  const marks = await Promise.all((await stores.list()).map(async ({ id }) => markOf(await stores.pool(id))));
  const { rows: awaited } = await stores.home.query<{ awaited: boolean }>(
    `SELECT EXISTS (SELECT FROM journal_entry_${day} WHERE id > $1) AS awaited`,
    [Math.min(neededAfter, ...marks)],
  );
  return awaited[0]!.awaited ? null : day;
}

/** Drops a day that {@link oldestDay} gave. Safe to repeat after it was cut off. */
export async function dropDay({ home }: Stores, day: string): Promise<void> {
  await inTransaction(home, async (client) => {
    await client.query(`SET LOCAL lock_timeout = '${LOCK_MILLISECONDS}ms'`);
    await client.query(`DROP TABLE IF EXISTS journal_entry_${day}`);
  });
}
