/** For which times the far end has all that there is of a tag: only of these it is told that somebody was watching. */
import type { Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Stores } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { nowMicros } from '../../ground/index.ts';

const EVER = '{(,)}';

/**
 * From now on everything of these tags is carried, and nothing of the link's others. Of a tag of which there was nothing
 * before, everything is carried whatever time it bears.
 * @param carried by the numbers of the tags: the link's. @param position up to where the journal was carried.
 */
export async function noteCarried(
  home: Pool,
  stores: Stores,
  catalogue: Catalogue,
  link: number,
  carried: ReadonlyMap<number, number>,
  position: number,
): Promise<void> {
  const now = nowMicros();
  const { rows: fresh } = await home.query<{ tag: number }>(
    `SELECT tag_id AS tag FROM link_tag WHERE link_id = $1 AND number = ANY($2::int[]) AND isempty(carried)`,
    [link, [...carried.values()]],
  );
  const whole = await withoutPast(
    home,
    stores,
    catalogue,
    fresh.map(({ tag }) => tag),
    position,
  );
  await home.query('UPDATE link_tag SET carried = $3::int8multirange WHERE link_id = $1 AND number = ANY($2::int[])', [
    link,
    whole.map((tag) => carried.get(tag)!),
    EVER,
  ]);
  await home.query(
    `UPDATE link_tag SET carried = CASE WHEN number = ANY($2::int[]) THEN carried + int8multirange(int8range($3, NULL))
                                        ELSE carried * int8multirange(int8range(NULL, $3)) END
     WHERE link_id = $1 AND upper_inf(carried) <> (number = ANY($2::int[]))`,
    [link, [...carried.values()], now],
  );
}

/** Those of which nothing was recorded up to a place in the journal. */
async function withoutPast(
  home: Pool,
  stores: Stores,
  catalogue: Catalogue,
  tags: readonly number[],
  position: number,
): Promise<number[]> {
  if (tags.length === 0) return [];
  // A tag that is younger than what was carried last has all of its entries behind that.
  const { rows: young } = await home.query<{ id: number }>(
    `SELECT d.id FROM (SELECT id, min(version_from) AS first FROM definition WHERE kind = 'tag' AND id = ANY($1::int[]) GROUP BY id) AS d
     JOIN configuration_version v ON v.number = d.first
     JOIN journal_entry j ON j.id = $2 AND j.received_at < v.at`,
    [tags, position],
  );
  const known = new Set(young.map(({ id }) => id));
  const older = tags.filter((tag) => !known.has(tag));
  const { rows: waiting } = await home.query<{ id: number }>(
    `SELECT DISTINCT unnest(tags) AS id FROM journal_entry WHERE id <= $2 AND tags && $1::int[]`,
    [older, position],
  );
  const held = new Set(waiting.map(({ id }) => id));
  for (const store of new Set(older.flatMap((tag) => catalogue.tagById(tag)?.storeId ?? []))) {
    const pool = await stores.pool(store);
    const { rows } = await pool.query<{ id: number }>(
      'SELECT DISTINCT tag_id AS id FROM ledger_month WHERE tag_id = ANY($1::int[])',
      [older],
    );
    for (const { id } of rows) held.add(id);
  }
  return tags.filter((tag) => !held.has(tag));
}

/** What came in these times had left the journal before it was carried. */
export async function noteUncarried(home: Pool, link: number, { from, to }: Span): Promise<void> {
  await home.query(
    'UPDATE link_tag SET carried = carried - int8multirange(int8range($2, $3)) WHERE link_id = $1 AND NOT isempty(carried)',
    [link, Number.isFinite(from) ? from : null, to],
  );
}

/** Both ends were found equal: all that there is of these tags in a window is there. */
export async function noteEqual(
  home: Pool,
  link: number,
  numbers: readonly number[],
  { from, to }: Span,
): Promise<void> {
  await home.query(
    'UPDATE link_tag SET carried = carried + int8multirange(int8range($3, $4)) WHERE link_id = $1 AND number = ANY($2::int[])',
    [link, numbers, from, to],
  );
}
