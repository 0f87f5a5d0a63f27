/** A source of another site: it stands beside the site's own with a negative number, and so does what is known of it. */
import type { PaperOf } from '@wide-ledger/contract';
import type { PoolClient } from 'pg';
import type { Arrival } from '../arrivals.ts';

interface SpanOf {
  readonly tag: number;
  readonly since: number;
  readonly until: number | null;
}

/** @param tags the numbers here, by the link's. */
export async function takeSource(
  client: PoolClient,
  { id, site_name }: Arrival,
  { number, name, duty, tags: groups, explanations }: PaperOf<'source'>,
  tags: ReadonlyMap<number, number>,
): Promise<void> {
  const { rows } = await client.query<{ id: number }>(
    `INSERT INTO arriving_source (arrival_id, number, name) VALUES ($1, $2, $3)
     ON CONFLICT (arrival_id, number) DO UPDATE SET name = excluded.name RETURNING id`,
    [id, number, name],
  );
  const source = rows[0]!.id;
  const spans = (list: typeof duty, tag: number): SpanOf[] => list.map(([since, until]) => ({ tag, since, until }));
  await client.query('DELETE FROM source_duty WHERE source_id = $1', [source]);
  await client.query(
    `INSERT INTO source_duty (source_id, since, until)
       SELECT $1, since, until FROM jsonb_to_recordset($2::jsonb) AS d(since bigint, until bigint) ON CONFLICT DO NOTHING`,
    [source, JSON.stringify(spans(duty, 0))],
  );
  await client.query('DELETE FROM duty WHERE source_id = $1', [source]);
  await client.query(
    // One that was retired here is not missed here since; one that has its own source here has its own duty.
    `INSERT INTO duty (tag_id, source_id, since, until)
       SELECT d.tag, $1, d.since, least(d.until, (extract(epoch FROM t.retired_at) * 1000000)::bigint)
       FROM jsonb_to_recordset($2::jsonb) AS d(tag int, since bigint, until bigint) JOIN tag t ON t.id = d.tag
       WHERE t.retired_at IS NULL OR (extract(epoch FROM t.retired_at) * 1000000)::bigint > d.since
     ON CONFLICT DO NOTHING`,
    [
      source,
      JSON.stringify(
        groups.flatMap((group) =>
          group.numbers.flatMap((one) => (tags.has(one) ? spans(group.duty, tags.get(one)!) : [])),
        ),
      ),
    ],
  );
  await client.query('DELETE FROM gap_explanation WHERE arriving_source = $1', [source]);
  const said = explanations.flatMap(({ number: about, from: since, to: until, by, reason }) => {
    const tag = about === 0 ? 0 : tags.get(about);
    return tag === undefined ? [] : [{ tag, since, until, by: `${site_name}: ${by}`, reason }];
  });
  await client.query(
    `INSERT INTO gap_explanation (kind, item_id, about, since, until, said_by, reason, arriving_source)
       SELECT CASE e.tag WHEN 0 THEN 'source' ELSE 'tag' END, CASE e.tag WHEN 0 THEN $1 ELSE e.tag END,
              coalesce(t.name, (SELECT name FROM named_source WHERE id = $1)), e.since, e.until, e.by, e.reason, $1
       FROM jsonb_to_recordset($2::jsonb) AS e(tag int, since bigint, until bigint, by text, reason text)
       LEFT JOIN tag t ON t.id = e.tag`,
    [source, JSON.stringify(said)],
  );
}
