/** Retention: whole months leave a store, after a look at what that would take along. */
import type { ExpiringMonth } from '@wide-ledger/contract';
import { formatInstant, monthStart, nextMonth } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { inTransaction } from '../../ground/index.ts';
import { REST, blockTable } from '../ledger/parts.ts';
import { changeLayout, takeMark } from '../ledger/mark.ts';
import type { Stores } from '../stores/stores.ts';

/** A month's table is dropped when nobody reads it; those who come meanwhile wait for no longer than this. */
const LOCK_MILLISECONDS = 2_000;
const BESIDE = ['modified_sample', 'annotation'] as const;

/** The first microsecond that a retention of so many whole months keeps, the running month not counted. */
export function keptSince(months: number, now: number): number {
  const date = new Date(Math.floor(monthStart(now) / 1000));
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() - months, 1) * 1000;
}

interface OldMonth {
  /** Its first microsecond. */
  readonly month: number;
  /** YYYYMM, whether or not there is such a part. */
  readonly name: string;
  readonly hasTable: boolean;
}

/** The months before an instant of which a store holds something, oldest first. */
async function monthsBefore(pool: Pool, since: number): Promise<OldMonth[]> {
  const { rows } = await pool.query<OldMonth>(
    `SELECT month, name, to_regclass('ledger_block_' || name) IS NOT NULL AS "hasTable"
     FROM (SELECT month FROM ledger_month WHERE month < $1
           UNION SELECT extract(epoch FROM date_trunc('month', timestamp 'epoch' + time * interval '1 microsecond'))::bigint * 1000000
             FROM (SELECT time FROM modified_sample WHERE time < $1 UNION ALL SELECT time FROM annotation WHERE time < $1) AS beside) AS held,
          to_char(timestamp 'epoch' + month * interval '1 microsecond', 'YYYYMM') AS name ORDER BY month`,
    [since],
  );
  return rows;
}

/** What would go: month by month, with its samples, their old values and annotations, and the room that it frees. */
export async function previewRetention(pool: Pool, since: number): Promise<ExpiringMonth[]> {
  const months: ExpiringMonth[] = [];
  for (const { month, name, hasTable } of await monthsBefore(pool, since)) {
    const own = hasTable ? `SELECT tag_id, samples, first_time, last_time FROM ${blockTable(name)} UNION ALL` : '';
    const { rows } = await pool.query<{
      samples: number;
      tags: number;
      first: number | null;
      last: number | null;
      modified: number;
      annotations: number;
      bytes: number;
    }>(
      `SELECT coalesce(sum(samples), 0)::bigint AS samples, count(DISTINCT tag_id) AS tags, min(first_time) AS first, max(last_time) AS last,
              (SELECT count(*) FROM modified_sample WHERE time >= $1 AND time < $2) AS modified,
              (SELECT count(*) FROM annotation WHERE time >= $1 AND time < $2) AS annotations,
              ${hasTable ? `pg_total_relation_size('${blockTable(name)}')` : '0'}
                + (SELECT coalesce(sum(pg_column_size(b.*)), 0)::bigint FROM ${blockTable(REST)} b WHERE first_time >= $1 AND first_time < $2) AS bytes
       FROM (${own} SELECT tag_id, samples, first_time, last_time FROM ${blockTable(REST)} WHERE first_time >= $1 AND first_time < $2) AS block`,
      [month, nextMonth(month)],
    );
    const { first, last, ...counts } = rows[0]!;
    months.push({
      month: `${name.slice(0, 4)}-${name.slice(4)}`,
      ...counts,
      first: first === null ? null : formatInstant(first),
      last: last === null ? null : formatInstant(last),
    });
  }
  return months;
}

/** From now on values before an instant are set aside: whatever was dropped, nothing comes in its place. */
export async function noteKept(stores: Stores, store: number, since: number): Promise<void> {
  await stores.home.query(
    `WITH moved AS (UPDATE store SET keeps_since = $2 WHERE id = $1 AND (keeps_since IS NULL OR keeps_since < $2) RETURNING id)
     UPDATE configuration SET epoch = epoch + 1 FROM moved`,
    [store, since],
  );
}

/** The oldest month before an instant of which a store holds something; null when there is none. */
export async function oldestMonthBefore(stores: Stores, store: number, since: number): Promise<OldMonth | null> {
  return (await monthsBefore(await stores.pool(store), since))[0] ?? null;
}

/** Drops one month. Readers that are in the middle of its table are waited for. Safe to repeat after it was cut off. */
export async function dropMonth(stores: Stores, store: number, { month, name, hasTable }: OldMonth): Promise<void> {
  await inTransaction(await stores.pool(store), async (client) => {
    // Posting remembers where months are: it must not be in the middle of one that goes.
    await takeMark(client, { wait: true });
    await client.query(`SET LOCAL lock_timeout = '${LOCK_MILLISECONDS}ms'`);
    const end = nextMonth(month);
    await client.query('DELETE FROM ledger_month WHERE month = $1', [month]);
    await client.query(`DELETE FROM ${blockTable(REST)} WHERE first_time >= $1 AND first_time < $2`, [month, end]);
    for (const table of BESIDE) {
      await client.query(`DELETE FROM ${table} WHERE time >= $1 AND time < $2`, [month, end]);
    }
    await changeLayout(client);
    if (hasTable) await client.query(`DROP TABLE IF EXISTS ${blockTable(name)}`);
  });
}
