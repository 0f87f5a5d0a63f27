/** Retention: whole months leave a store by dropping their tables, after a look at what that would take along. */
import type { ExpiringMonth } from '@wide-ledger/contract';
import { formatInstant, monthStart } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { dropPartition } from '../database/partitions.ts';
import type { Stores } from './stores.ts';

const MONTH_TABLES = ['ledger_block', 'modified_sample', 'annotation'] as const;

/** The first microsecond that a retention of so many whole months keeps, the running month not counted. */
export function keptSince(months: number, now: number): number {
  const date = new Date(Math.floor(monthStart(now) / 1000));
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() - months, 1) * 1000;
}

/** Suffixes (YYYYMM) of the months that a store has tables for and that lie before an instant, oldest first. */
async function monthsBefore(pool: Pool, since: number): Promise<string[]> {
  const last = new Date(Math.floor(since / 1000)).toISOString().slice(0, 7).replace('-', '');
  const { rows } = await pool.query<{ month: string }>(
    `SELECT DISTINCT substring(relid::regclass::text FROM '(\\d{6})$') AS month
     FROM unnest($1::text[]) AS parent, pg_partition_tree(parent::regclass) WHERE isleaf
       AND substring(relid::regclass::text FROM '(\\d{6})$') < $2 ORDER BY month`,
    [MONTH_TABLES, last],
  );
  return rows.map(({ month }) => month);
}

/** What would go: month by month, with its samples, their old values and annotations, and the room that it frees. */
export async function previewRetention(pool: Pool, since: number): Promise<ExpiringMonth[]> {
  const months: ExpiringMonth[] = [];
  for (const month of await monthsBefore(pool, since)) {
    const here = new Set(
      (
        await pool.query<{ parent: string }>(
          "SELECT parent FROM unnest($1::text[]) AS parent WHERE to_regclass(parent || '_' || $2) IS NOT NULL",
          [MONTH_TABLES, month],
        )
      ).rows.map(({ parent }) => parent),
    );
    // A month without old values or annotations has no table for them.
    const of = (parent: (typeof MONTH_TABLES)[number], what: string): string =>
      here.has(parent) ? `(SELECT ${what} FROM ${parent}_${month})` : '(NULL::bigint)';
    const { rows } = await pool.query<{
      samples: number;
      tags: number;
      first: number | null;
      last: number | null;
      modified: number;
      annotations: number;
      bytes: number;
    }>(
      `SELECT coalesce(${of('ledger_block', 'sum(samples)::bigint')}, 0) AS samples,
              coalesce(${of('ledger_block', 'count(DISTINCT tag_id)')}, 0) AS tags,
              ${of('ledger_block', 'min(first_time)')} AS first,
              ${of('ledger_block', 'max(last_time)')} AS last,
              coalesce(${of('modified_sample', 'count(*)')}, 0) AS modified,
              coalesce(${of('annotation', 'count(*)')}, 0) AS annotations,
              ${[...here].map((parent) => `pg_total_relation_size('${parent}_${month}')`).join(' + ')} AS bytes`,
    );
    const { first, last, ...counts } = rows[0]!;
    months.push({
      month: `${month.slice(0, 4)}-${month.slice(4)}`,
      ...counts,
      first: first === null ? null : formatInstant(first),
      last: last === null ? null : formatInstant(last),
    });
  }
  return months;
}

/**
 * Drops the months before an instant. From then on values of that time are set aside. Readers that have begun go on
 * with what they began with. Safe to repeat after it was cut off.
 * @returns how many months went.
 */
export async function dropMonths(stores: Stores, store: number, since: number): Promise<number> {
  await stores.home.query(
    `WITH moved AS (UPDATE store SET keeps_since = greatest(keeps_since, $2) WHERE id = $1 RETURNING id)
     UPDATE configuration SET version = version + 1 FROM moved`,
    [store, since],
  );
  const pool = await stores.pool(store);
  const months = await monthsBefore(pool, since);
  for (const month of months) {
    for (const parent of MONTH_TABLES) await dropPartition(pool, parent, `${parent}_${month}`);
  }
  return months.length;
}
