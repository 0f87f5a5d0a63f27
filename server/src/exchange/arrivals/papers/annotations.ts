/** What people wrote at another site on a tag that arrives here, beside what was written on it here. */
import type { PaperOf } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import { inTransaction } from '../../../ground/index.ts';

/** As a paper has room for. */
const LONGEST_WRITER = 200;

/** Whose papers these are, and whose they are here. */
export interface Sites {
  /** The identity of this site: what was written here does not come back. */
  readonly self: string;
  /** The one that tells them. */
  readonly teller: { readonly identity: string; readonly name: string };
}

/** @param store in which the tag is. */
export async function takeAnnotations(
  store: Pool,
  tag: number,
  { self, teller }: Sites,
  { annotations }: PaperOf<'annotations'>,
): Promise<void> {
  const rows = annotations
    .filter(({ origin }) => origin !== self)
    // Whoever told it first has named its writer's site.
    .map(({ id, time, text, by, at, origin }) => {
      const named = origin === undefined ? `${teller.name}: ${by}` : by;
      return { id, time, text, by: named.slice(0, LONGEST_WRITER), at, origin: origin ?? teller.identity };
    });
  await inTransaction(store, async (client) => {
    await client.query('DELETE FROM annotation WHERE tag_id = $1 AND carried_id IS NOT NULL', [tag]);
    await client.query(
      `INSERT INTO annotation (tag_id, time, text, written_by, written_at, carried_id, origin_site)
         SELECT $1, "time", text, by, at, id, origin
         FROM jsonb_to_recordset($2::jsonb) AS a(id bigint, "time" bigint, text text, by text, at timestamptz, origin text)`,
      [tag, JSON.stringify(rows)],
    );
  });
}
