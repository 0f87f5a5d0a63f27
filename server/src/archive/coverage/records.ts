/** What the database knows of watches, outages and duties in a window, by source. Times in microseconds since 1970. */
import {
  SECOND,
  originName,
  type DutyGroup,
  type GapCause,
  type Recovery,
  type SourceOutage,
  type SourceRecord,
  type SourceWatch,
  type Span,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import { explanationsOf } from './explanations.ts';
import { ENDLESS, dutyGroups, dutyOfTag } from './duties.ts';

/** Delivery takes a moment: what is younger than this is not yet missed. */
const GRACE = 4 * SECOND;

/** A link of which nothing was heard for so long is silent. */
export const SILENT_SECONDS = 30;

/** The present, and from which sources a collector is just watching what is missing at the end is on its way. */
export interface Present {
  readonly now: number;
  readonly arriving: readonly number[];
}

/** The records of all sources, or of those that one tag had, with its own outages alone. */
export async function recordsOf(
  home: Pool,
  window: Span,
  { now, arriving }: Present,
  tag?: number,
): Promise<Map<number, SourceRecord>> {
  const groups = tag === undefined ? await dutyGroups(home, window) : await groupsOf(home, tag, window);
  const sources = [...new Set(groups.map(({ source }) => source))];
  const [watches, outages, recoveries, explanations, elsewhere] = await Promise.all([
    watchesOf(home, sources, window),
    outagesOf(home, sources, window, tag ?? null),
    recoveriesOf(home, sources, window, tag ?? null),
    explanationsOf(home, window, groups),
    heardOf(home, sources),
  ]);
  const records = new Map<number, SourceRecord>();
  for (const source of sources) {
    const own = watches.get(source) ?? [];
    const delivered = own.reduce((until, { to }) => Math.max(until, to), -Infinity);
    const due = now - GRACE;
    const site = elsewhere.get(source);
    const silent =
      site && !site.heard && !site.revoked ? [silence(site, Math.max(delivered, site.contact ?? -Infinity))] : [];
    records.set(source, {
      watches: own,
      outages: [...(outages.get(source) ?? []), ...silent],
      recoveries: recoveries.get(source) ?? [],
      explanations: explanations.get(source) ?? [],
      groups: groups.filter((group) => group.source === source),
      until: site
        ? knownUntil(site, due, outages.get(source) ?? [])
        : delivered > -Infinity && arriving.includes(source)
          ? Math.min(due, delivered)
          : due,
    });
  }
  return records;
}

/** Another site whose source it is. */
interface Elsewhere {
  readonly source: number;
  readonly site: string;
  readonly link: string;
  /** When something was heard of it last, microseconds. */
  readonly contact: number | null;
  /** The end of what was watched there, as far as it told. */
  readonly told: number | null;
  /** Whether its link is there. */
  readonly heard: boolean;
  /** Whether it may carry nothing any more: what comes after that is nobody's concern. */
  readonly revoked: boolean;
}

/** How it stands with the sites whose sources have negative numbers. */
async function heardOf(home: Pool, sources: readonly number[]): Promise<Map<number, Elsewhere>> {
  const theirs = sources.filter((source) => source < 0);
  if (theirs.length === 0) return new Map();
  const { rows } = await home.query<Elsewhere>({
    name: 'heard_of',
    text: `SELECT s.id AS source, coalesce(a.site_name, a.name) AS site, a.name AS link,
             (extract(epoch FROM a.contact_at) * 1000000)::bigint AS contact,
             coalesce(a.contact_at > now() - interval '${SILENT_SECONDS} s', false) AS heard,
             coalesce(k.revoked_at IS NOT NULL, false) AS revoked,
             (SELECT max(until) FROM watch w WHERE w.source_id = s.id) AS told
           FROM arriving_source s JOIN arrival a ON a.id = s.arrival_id LEFT JOIN access_key k ON k.id = a.key_id WHERE s.id = ANY($1::int[])`,
    values: [theirs],
  });
  return new Map(rows.map((row) => [row.source, row]));
}

/** Up to when it can be told what was watched at another site. What that has not told yet is on its way, while its source is watched. */
function knownUntil(
  { heard, revoked, contact, told }: Elsewhere,
  due: number,
  outages: readonly SourceOutage[],
): number {
  if (revoked) return Math.min(due, contact ?? -Infinity);
  const isAway = outages.some(({ tag, to }) => tag === 0 && to === ENDLESS);
  return heard && !isAway ? Math.min(due, told ?? -Infinity) : due;
}

/** Since a link is silent it is not known what was watched at its other end; the site itself knows, and tells later. */
const silence = ({ site, link }: Elsewhere, from: number): SourceOutage => ({
  tag: 0,
  within: false,
  from,
  to: ENDLESS,
  cause: 'link',
  sentence: `Nothing is heard of ${site}: the link ${link} is silent.`,
  code: null,
  recoverable: true,
});

async function groupsOf(home: Pool, tag: number, window: Span): Promise<(DutyGroup & { source: number })[]> {
  const duty = await dutyOfTag(home, tag, window);
  return [...new Set(duty.map(({ source }) => source))].map((source) => ({
    source,
    tags: [tag],
    spans: duty.filter((span) => span.source === source),
  }));
}

async function watchesOf(home: Pool, sources: readonly number[], window: Span): Promise<Map<number, SourceWatch[]>> {
  const { rows } = await home.query<{ source: number; origin: number; from: number; to: number }>({
    name: 'watches',
    text: `SELECT source_id AS source, origin, since AS from, until AS to FROM watch
           WHERE source_id = ANY($3) AND until > $1 AND since < $2 ORDER BY since`,
    values: [window.from, window.to, sources],
  });
  return bySource(rows, ({ origin, from, to }) => ({ origin: originName(origin), from, to }));
}

interface OutageRow extends Span {
  readonly source: number;
  readonly tag: number;
  readonly cause: GapCause;
  readonly sentence: string;
  readonly code: string | null;
  readonly recoverable: boolean;
  readonly within: boolean;
}

/** @param tag whose own outages are wanted beside the sources'; null: those of all tags. */
async function outagesOf(
  home: Pool,
  sources: readonly number[],
  window: Span,
  tag: number | null,
): Promise<Map<number, SourceOutage[]>> {
  const { rows } = await home.query<OutageRow>({
    name: 'outages',
    text: `SELECT source_id AS source, tag_id AS tag, since AS from, coalesce(until, ${ENDLESS}) AS to, cause, sentence, code,
             recoverable, within_watch AS within
           FROM outage WHERE source_id = ANY($3) AND coalesce(until, $2) >= $1 AND since < $2
             AND ($4::int IS NULL OR tag_id IN (0, $4)) ORDER BY since`,
    values: [window.from, window.to, sources, tag],
  });
  return bySource(rows, ({ source: _source, ...outage }) => outage);
}

/** @param tag whose own recoveries are wanted beside the sources'; null: those of all tags. */
export async function recoveriesOf(
  home: Pool,
  sources: readonly number[],
  window: Span,
  tag: number | null,
): Promise<Map<number, Recovery[]>> {
  const { rows } = await home.query<Recovery & { readonly source: number }>({
    name: 'recoveries',
    text: `SELECT source_id AS source, tag_id AS tag, since AS from, until AS to, outcome, sentence FROM recovery
           WHERE source_id = ANY($3) AND until > $1 AND since < $2 AND ($4::int IS NULL OR tag_id IN (0, $4)) ORDER BY since`,
    values: [window.from, window.to, sources, tag],
  });
  return bySource(rows, ({ source: _source, ...recovery }) => recovery);
}

function bySource<Row extends { readonly source: number }, Out>(
  rows: readonly Row[],
  shape: (row: Row) => Out,
): Map<number, Out[]> {
  const found = new Map<number, Out[]>();
  for (const row of rows) {
    const known = found.get(row.source);
    if (known) known.push(shape(row));
    else found.set(row.source, [shape(row)]);
  }
  return found;
}
