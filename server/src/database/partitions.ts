/** Partitions leave whole: nothing is deleted row by row. */
import type { Pool } from 'pg';

/** Detaches a partition without stopping those who read the others, then drops it. Safe to repeat after it was cut off. */
export async function dropPartition(pool: Pool, parent: string, partition: string): Promise<void> {
  const { rows } = await pool.query<{ pending: boolean }>(
    'SELECT inhdetachpending AS pending FROM pg_inherits WHERE inhrelid = to_regclass($1)',
    [partition],
  );
  if (rows[0]) {
    const how = rows[0].pending ? 'FINALIZE' : 'CONCURRENTLY';
    await pool.query(`ALTER TABLE ${parent} DETACH PARTITION ${partition} ${how}`);
  }
  await pool.query(`DROP TABLE IF EXISTS ${partition}`);
}
