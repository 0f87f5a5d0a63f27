/** What sources refuse at present: tags that cannot be read while the rest of their source is. */
import type { Pool } from 'pg';

/** Why, as a sentence, by tag; nothing of the others. */
export async function refusalsOf(home: Pool, tags: readonly number[]): Promise<ReadonlyMap<number, string>> {
  const { rows } = await home.query<{ tag: number; sentence: string }>({
    name: 'refusals_of',
    text: `SELECT DISTINCT ON (tag_id) tag_id AS tag, sentence FROM outage
           WHERE until IS NULL AND tag_id > 0 AND tag_id = ANY($1::int[]) ORDER BY tag_id, since DESC`,
    values: [tags],
  });
  return new Map(rows.map(({ tag, sentence }) => [tag, sentence]));
}
