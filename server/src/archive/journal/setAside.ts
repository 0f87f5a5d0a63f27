/** Values refused but not lost. */
import type { SetAsideRow } from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import type { Database } from '../../ground/index.ts';

/** What was set aside, newest first. */
export async function newestSetAside(
  { pool }: Database,
  limit: number,
): Promise<{ total: number; newest: SetAsideRow[] }> {
  const [count, rows] = await Promise.all([
    pool.query<{ total: number }>('SELECT count(*) AS total FROM set_aside'),
    pool.query<{
      id: number;
      at: Date;
      writer: string;
      tag: string;
      time: number | null;
      value: string;
      reason: string;
    }>('SELECT id, at, writer, tag, time, value, reason FROM set_aside ORDER BY id DESC LIMIT $1', [limit]),
  ]);
  const newest = rows.rows.map((row) => ({
    ...row,
    at: row.at.toISOString(),
    time: row.time === null ? null : formatInstant(row.time),
  }));
  return { total: count.rows[0]!.total, newest };
}
