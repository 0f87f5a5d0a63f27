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
  const [watches, outages, recoveries, explanations] = await Promise.all([
    watchesOf(home, sources, window),
    outagesOf(home, sources, window, tag ?? null),
    recoveriesOf(home, sources, window, tag ?? null),
    explanationsOf(home, window, groups),
  ]);
  const records = new Map<number, SourceRecord>();
  for (const source of sources) {
    const own = watches.get(source) ?? [];
    const delivered = own.reduce((until, { to }) => Math.max(until, to), -Infinity);
    const due = now - GRACE;
    records.set(source, {
      watches: own,
      outages: outages.get(source) ?? [],
      recoveries: recoveries.get(source) ?? [],
      explanations: explanations.get(source) ?? [],
      groups: groups.filter((group) => group.source === source),
      until: delivered > -Infinity && arriving.includes(source) ? Math.min(due, delivered) : due,
    });
  }
  return records;
}

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
