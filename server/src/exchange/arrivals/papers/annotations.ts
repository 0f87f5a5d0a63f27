/** What people wrote at another site on a tag that arrives here, beside what was written on it here. */
import type { PaperOf } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import { inTransaction } from '../../../ground/index.ts';

/** @param store in which the tag is. @param site where it was written, as its writer is told. */
export async function takeAnnotations(
  store: Pool,
  tag: number,
  site: string,
  { annotations }: PaperOf<'annotations'>,
): Promise<void> {
  const rows = annotations.map(({ id, time, text, by, at }) => ({ id, time, text, by: `${site}: ${by}`, at }));
  await inTransaction(store, async (client) => {
    await client.query('DELETE FROM annotation WHERE tag_id = $1 AND carried_id IS NOT NULL', [tag]);
    await client.query(
      `INSERT INTO annotation (tag_id, time, text, written_by, written_at, carried_id)
         SELECT $1, "time", text, by, at, id
         FROM jsonb_to_recordset($2::jsonb) AS a(id bigint, "time" bigint, text text, by text, at timestamptz)`,
      [tag, JSON.stringify(rows)],
    );
  });
}
