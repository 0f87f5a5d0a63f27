/** Values refused but not lost. */
import type { SetAsideRow } from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import type { Database } from '../../ground/index.ts';

/** How many values were set aside in all. Goes through all of them. */
export async function countSetAside({ pool }: Database): Promise<number> {
  const { rows } = await pool.query<{ total: number }>('SELECT count(*) AS total FROM set_aside');
  return rows[0]!.total;
}

interface Row extends Omit<SetAsideRow, 'at' | 'time'> {
  readonly at: Date;
  readonly time: number | null;
}

/** What was set aside last, newest first. */
export async function newestSetAside({ pool }: Database, limit: number): Promise<SetAsideRow[]> {
  const { rows } = await pool.query<Row>(
    'SELECT id, at, writer, tag, time, value, reason FROM set_aside ORDER BY id DESC LIMIT $1',
    [limit],
  );
  return rows.map((row) => ({
    ...row,
    at: row.at.toISOString(),
    time: row.time === null ? null : formatInstant(row.time),
  }));
}
