/** Papers that a link brings: each takes the place of the one that was here. */
import type { HeldPaper, Paper, PaperOf } from '@wide-ledger/contract';
import { DAY, originCode } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import type { Stores } from '../../../archive/index.ts';
import type { Catalogue } from '../../../configuration/index.ts';
import { inTransaction, nowMicros } from '../../../ground/index.ts';
import type { Arrival } from '../arrivals.ts';
import { numbersOf } from '../declaring.ts';
import { takeAnnotations } from './annotations.ts';
import { takeSource } from './source.ts';

/** What is here, by its prints. */
export async function papersHeld(home: Pool, { id }: Arrival): Promise<HeldPaper[]> {
  const { rows } = await home.query<HeldPaper>(
    'SELECT kind, number, day, print FROM arriving_paper WHERE arrival_id = $1',
    [id],
  );
  return rows;
}

const dayOf = (paper: Paper): number => (paper.kind === 'day' ? paper.day : 0);

/** Takes papers: all of them with their prints, or nothing. What is about tags or sources that are not known is left. */
export async function takePapers(
  home: Pool,
  stores: Stores,
  catalogue: Catalogue,
  arrival: Arrival,
  papers: readonly Paper[],
  self: string,
): Promise<void> {
  const those = <Kind extends Paper['kind']>(kind: Kind): PaperOf<Kind>[] =>
    papers.filter((paper): paper is PaperOf<Kind> => paper.kind === kind);
  const [sources, days, written] = [those('source'), those('day'), those('annotations')];
  const tags = await numbersOf(home, arrival, [
    ...sources.flatMap((one) => one.tags.flatMap(({ numbers }) => numbers)),
    ...sources.flatMap(({ explanations }) => explanations.map(({ number }) => number)),
    ...days.flatMap(({ outages, recoveries }) => [...outages, ...recoveries].map(({ number }) => number)),
    ...written.map(({ number }) => number),
  ]);
  await catalogue.refresh();
  const sites = { self, teller: { identity: arrival.site, name: arrival.site_name } };
  // Those of stores come first: their prints are written only when they are there.
  for (const paper of written) {
    const tag = catalogue.tagById(tags.get(paper.number) ?? 0);
    if (tag) await takeAnnotations(await stores.pool(tag.storeId), tag.id, sites, paper);
  }
  await inTransaction(home, async (client) => {
    // Two requests of one link do not mix.
    await client.query('SELECT FROM arrival WHERE id = $1 FOR UPDATE', [arrival.id]);
    for (const paper of sources) await takeSource(client, arrival, paper, tags);
    await takeDays(client, arrival, days, tags);
    for (const paper of those('changes')) await takeChanges(client, arrival, paper);
    await client.query(
      `INSERT INTO arriving_paper AS known (arrival_id, kind, number, day, print)
         SELECT $1, * FROM unnest($2::text[], $3::int[], $4::bigint[], $5::text[])
       ON CONFLICT (arrival_id, kind, number, day) DO UPDATE SET print = excluded.print`,
      [
        arrival.id,
        papers.map(({ kind }) => kind),
        papers.map(({ number }) => number),
        papers.map(dayOf),
        papers.map(({ print }) => print),
      ],
    );
  });
}

/** What was known of these days makes room for what is known now. */
async function takeDays(
  client: PoolClient,
  { id }: Arrival,
  days: readonly PaperOf<'day'>[],
  tags: ReadonlyMap<number, number>,
): Promise<void> {
  if (days.length === 0) return;
  const { rows } = await client.query<{ id: number; number: number }>(
    'SELECT id, number FROM arriving_source WHERE arrival_id = $1',
    [id],
  );
  const sources = new Map(rows.map((row) => [row.number, row.id]));
  const now = nowMicros();
  const known = days.flatMap(({ watches, outages, recoveries, ...day }) => {
    const source = sources.get(day.number);
    // What is of another day would never make room for what is known then.
    const within = ({ from, to }: { readonly from: number; readonly to: number | null }): boolean =>
      from >= day.day && from < day.day + DAY && (to === null || (to > from && to <= day.day + DAY));
    if (source === undefined || day.day > now) return [];
    return [
      {
        ...day,
        source,
        watches: watches.filter(within),
        outages: outages.filter(within),
        recoveries: recoveries.filter(within),
      },
    ];
  });
  const cells = JSON.stringify(known.map(({ source, day }) => ({ source, since: day, until: day + DAY })));
  const cell = 'jsonb_to_recordset($1::jsonb) AS d(source int, since bigint, until bigint)';
  const within = (table: string): string =>
    `${table}.source_id = d.source AND ${table}.until > d.since AND ${table}.until <= d.until AND ${table}.since >= d.since`;
  await client.query(`DELETE FROM watch USING ${cell} WHERE ${within('watch')}`, [cells]);
  await client.query(`DELETE FROM recovery USING ${cell} WHERE ${within('recovery')}`, [cells]);
  await client.query(
    `DELETE FROM outage USING ${cell} WHERE outage.source_id = d.source AND outage.since >= d.since AND outage.since < d.until`,
    [cells],
  );
  const ofTags = <One extends { readonly number: number; readonly from: number; readonly to: number | null }>(
    list: readonly One[],
    source: number,
  ): object[] =>
    list.flatMap(({ number, from, to, ...rest }) => {
      const tag = number === 0 ? 0 : tags.get(number);
      return tag === undefined ? [] : [{ ...rest, source, tag, since: from, until: to }];
    });
  await client.query(
    `INSERT INTO watch (source_id, version, origin, since, until)
       SELECT source, 0, origin, since, until
       FROM jsonb_to_recordset($1::jsonb) AS w(source int, origin smallint, since bigint, until bigint)`,
    [
      JSON.stringify(
        known.flatMap(({ source, watches }) =>
          watches.map(({ origin, from, to }) => ({ source, origin: originCode(origin), since: from, until: to })),
        ),
      ),
    ],
  );
  await client.query(
    `INSERT INTO outage (source_id, tag_id, since, until, cause, sentence, code, recoverable, within_watch)
       SELECT source, tag, since, until, cause, sentence, code, recoverable, within
       FROM jsonb_to_recordset($1::jsonb) AS o(source int, tag int, since bigint, until bigint, cause text, sentence text,
         code text, recoverable boolean, within boolean)
     ON CONFLICT DO NOTHING`,
    [JSON.stringify(known.flatMap(({ source, outages }) => ofTags(outages, source)))],
  );
  await client.query(
    `INSERT INTO recovery (source_id, tag_id, since, until, outcome, sentence)
       SELECT source, tag, since, until, outcome, sentence
       FROM jsonb_to_recordset($1::jsonb) AS r(source int, tag int, since bigint, until bigint, outcome text, sentence text)`,
    [JSON.stringify(known.flatMap(({ source, recoveries }) => ofTags(recoveries, source)))],
  );
}

async function takeChanges(
  client: PoolClient,
  { id }: Arrival,
  { number, changes }: PaperOf<'changes'>,
): Promise<void> {
  await client.query('DELETE FROM arriving_change WHERE arrival_id = $1 AND number = $2', [id, number]);
  await client.query(
    `INSERT INTO arriving_change (arrival_id, number, place, at, put_by, reason, fields)
       SELECT $1, $2, c.place, (c.change ->> 'at')::timestamptz, c.change ->> 'by', c.change ->> 'reason', c.change -> 'fields'
       FROM jsonb_array_elements($3::jsonb) WITH ORDINALITY AS c(change, place)`,
    [id, number, JSON.stringify(changes)],
  );
}
