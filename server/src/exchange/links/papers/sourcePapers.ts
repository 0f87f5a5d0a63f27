/** Papers of the sources whose tags a link carries: their duty, what was watched of them day by day, what people said. */
import type { Paper, PaperOf } from '@wide-ledger/contract';
import {
  coverageDays,
  intersect,
  originName,
  union,
  type DutyGroup,
  type GapExplanation,
  type KnownOutage,
  type Recovery,
  type SourceFacts,
  type SourceWatch,
  type Span,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { CarriedNumbers } from '../carriedTags.ts';

/** The end of what has none, and the beginning. */
const ENDLESS = 9_000_000_000_000_000;
const ALWAYS: Span = { from: -ENDLESS, to: ENDLESS };

/** A paper that is not known yet by a print. */
export type Unprinted<Of extends Paper = Paper> = Of extends Paper ? Omit<Of, 'print'> : never;

/** What is said of gaps, by the sources and tags that it is about. */
export type AskExplanations = (
  window: Span,
  groups: readonly (DutyGroup & { readonly source: number })[],
) => Promise<ReadonlyMap<number, readonly GapExplanation[]>>;

type SpanRow = readonly [number, number | null];
const asSpan = ([from, to]: SpanRow): Span => ({ from, to: to ?? ENDLESS });
const asRow = ({ from, to }: Span): [number, number | null] => [from, to === ENDLESS ? null : to];

/** A source as it is gathered: its tags by the words for their duty. */
interface Known {
  readonly name: string;
  readonly duty: readonly Span[];
  readonly groups: Map<string, { readonly numbers: number[]; readonly duty: readonly Span[] }>;
}

interface DutyRow {
  readonly source: number;
  readonly name: string;
  readonly open: SpanRow[];
  readonly tag: number;
  readonly spans: SpanRow[];
  readonly carried: SpanRow[];
}

/**
 * The sources of tags of which every value is carried. The far end knows of a tag's duty as far as it has its values.
 * @param numbers of the link; a source goes by its own number.
 */
export async function sourcePapers(
  home: Pool,
  link: number,
  { detail }: CarriedNumbers,
  explained: AskExplanations,
): Promise<Unprinted<PaperOf<'source'>>[]> {
  const { rows } = await home.query<DutyRow>(
    `SELECT d.source_id AS source, s.name, d.tag_id AS tag, o.open, d.spans, c.carried
     FROM (SELECT source_id, tag_id, jsonb_agg(jsonb_build_array(since, until) ORDER BY since) AS spans
           FROM duty WHERE tag_id = ANY($2::int[]) GROUP BY source_id, tag_id) AS d
     JOIN named_source s ON s.id = d.source_id
     JOIN link_tag t ON t.link_id = $1 AND t.tag_id = d.tag_id AND t.summary = ''
     CROSS JOIN LATERAL (SELECT jsonb_agg(jsonb_build_array(since, until) ORDER BY since) AS open
                         FROM source_duty WHERE source_id = d.source_id) AS o
     CROSS JOIN LATERAL (SELECT jsonb_agg(jsonb_build_array(coalesce(lower(part), -${ENDLESS}), upper(part)) ORDER BY part) AS carried
                         FROM unnest(t.carried) AS part) AS c
     WHERE o.open IS NOT NULL AND c.carried IS NOT NULL ORDER BY d.source_id, d.tag_id`,
    [link, [...detail.keys()]],
  );
  const found = new Map<number, Known>();
  const groups: (DutyGroup & { source: number })[] = [];
  for (const { source, name, tag, open, spans, carried } of rows) {
    const duty = intersect(union(spans.map(asSpan)), union(carried.map(asSpan)));
    if (duty.length === 0) continue;
    const known: Known = found.get(source) ?? { name, duty: union(open.map(asSpan)), groups: new Map() };
    found.set(source, known);
    groups.push({ source, tags: [tag], spans: duty });
    const key = duty.map(({ from, to }) => `${from} ${to}`).join();
    const alike = known.groups.get(key);
    if (alike) alike.numbers.push(detail.get(tag)!);
    else known.groups.set(key, { numbers: [detail.get(tag)!], duty });
  }
  const said = await explained(ALWAYS, groups);
  return [...found].map(([number, { name, duty, groups: alike }]) => ({
    kind: 'source',
    number,
    name,
    duty: duty.map(asRow),
    tags: [...alike.values()].map((group) => ({ numbers: group.numbers, duty: group.duty.map(asRow) })),
    explanations: (said.get(number) ?? []).map(({ tag, ...one }) => ({ number: detail.get(tag) ?? 0, ...one })),
  }));
}

/** The days of sources in a window of whole days; days of which nothing is known are left out. */
export async function dayPapers(
  home: Pool,
  sources: readonly number[],
  { detail }: CarriedNumbers,
  window: Span,
): Promise<Unprinted<PaperOf<'day'>>[]> {
  if (sources.length === 0) return [];
  const facts = await factsOf(home, sources, window);
  const carried = <One extends { readonly tag: number }>(
    list: readonly One[],
  ): (Omit<One, 'tag'> & { number: number })[] =>
    list.flatMap(({ tag, ...one }) => {
      const number = tag === 0 ? 0 : detail.get(tag);
      return number === undefined ? [] : [{ ...one, number }];
    });
  return [...facts].flatMap(([number, of]) =>
    [...coverageDays(of, window)].map(([day, { watches, outages, recoveries }]) => ({
      kind: 'day' as const,
      number,
      day,
      watches: [...watches],
      outages: carried(outages),
      recoveries: carried(recoveries),
    })),
  );
}

type Of<One> = One & { readonly source: number };

async function factsOf(home: Pool, sources: readonly number[], { from, to }: Span): Promise<Map<number, SourceFacts>> {
  const values = [from, to, sources];
  const [watches, outages, recoveries] = await Promise.all([
    home.query<Of<Span> & { readonly origin: number }>(
      `SELECT source_id AS source, origin, since AS from, until AS to FROM watch
       WHERE source_id = ANY($3) AND until > $1 AND since < $2 ORDER BY since, id`,
      values,
    ),
    home.query<Of<KnownOutage>>(
      `SELECT source_id AS source, tag_id AS tag, since AS from, until AS to, cause, sentence, code, recoverable, within_watch AS within
       FROM outage WHERE source_id = ANY($3) AND coalesce(until, $2) > $1 AND since < $2 ORDER BY since, tag_id`,
      values,
    ),
    home.query<Of<Recovery>>(
      `SELECT source_id AS source, tag_id AS tag, since AS from, until AS to, outcome, sentence FROM recovery
       WHERE source_id = ANY($3) AND until > $1 AND since < $2 ORDER BY since, tag_id, id`,
      values,
    ),
  ]);
  const found = new Map(
    sources.map((source) => [
      source,
      { watches: [] as SourceWatch[], outages: [] as KnownOutage[], recoveries: [] as Recovery[] },
    ]),
  );
  for (const { source, origin, from: since, to: until } of watches.rows)
    found.get(source)!.watches.push({ origin: originName(origin), from: since, to: until });
  for (const { source, ...outage } of outages.rows) found.get(source)!.outages.push(outage);
  for (const { source, ...recovery } of recoveries.rows) found.get(source)!.recoveries.push(recovery);
  return found;
}
