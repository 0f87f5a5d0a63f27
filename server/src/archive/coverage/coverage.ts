/** What was watched and what was not, per source and per tag. */
import type { CoverageRow, Gap as GapAnswer } from '@wide-ledger/contract';
import {
  SECOND,
  clip,
  findGaps,
  formatInstant,
  intersect,
  originName,
  subtract,
  totalLength,
  union,
  type Gap,
  type GapCause,
  type Origin,
  type Outage,
  type Span,
} from '@wide-ledger/core';
import type { Database } from '../../ground/index.ts';
import type { Catalogue, SourceRow, TagRow } from '../../configuration/index.ts';
import { dutyGroups, dutyOfTag, type DutyGroup } from './duties.ts';

/** Delivery takes a moment: what is younger than this is not yet missed. */
const GRACE = 4 * SECOND;

interface WatchRow extends Span {
  readonly source: number;
  readonly origin: Origin;
}

interface OutageRow extends Outage {
  readonly source: number;
  /** 0: the whole source. */
  readonly tag: number;
  /** Found afterwards, within a watch: it is taken out of it. */
  readonly within: boolean;
}

/** Watches, outages and what follows from them: strips and gaps. Times in microseconds since 1970. */
export class Coverage {
  constructor(
    private readonly database: Database,
    private readonly catalogue: Catalogue,
    /** Whether a source is being watched by a collector that reports: what is missing at the end is on its way. */
    private readonly isArriving: (source: number) => boolean,
    private readonly now: () => number = () => Date.now() * 1000,
  ) {}

  /** The end of a tag's last watch: of the watches of its sources within its duty; −∞ without one. */
  async watchedUntil(tag: TagRow): Promise<number> {
    const { rows } = await this.database.pool.query<{ until: number | null }>({
      name: 'watched_until',
      text: `SELECT max(least(w.until, d.until)) AS until FROM duty d,
               LATERAL (SELECT max(until) AS until FROM watch WHERE source_id = d.source_id) AS w
             WHERE d.tag_id = $1 AND w.until > d.since`,
      values: [tag.id],
    });
    return rows[0]!.until ?? -Infinity;
  }

  private async watches(window: Span): Promise<WatchRow[]> {
    const { rows } = await this.database.pool.query<{
      source_id: number;
      origin: number;
      since: number;
      until: number;
    }>({
      name: 'watches',
      text: 'SELECT source_id, origin, since, until FROM watch WHERE until > $1 AND since < $2 ORDER BY since',
      values: [window.from, window.to],
    });
    return rows.map((row) => ({
      source: row.source_id,
      origin: originName(row.origin),
      from: row.since,
      to: row.until,
    }));
  }

  private async outages(window: Span): Promise<OutageRow[]> {
    const { rows } = await this.database.pool.query<{
      source_id: number;
      tag_id: number;
      since: number;
      until: number | null;
      cause: GapCause;
      sentence: string;
      code: string | null;
      recoverable: boolean;
      within_watch: boolean;
    }>({
      name: 'outages',
      text: 'SELECT * FROM outage WHERE coalesce(until, $2) >= $1 AND since < $2',
      values: [window.from, window.to],
    });
    return rows.map(({ source_id, tag_id, since, until, within_watch, ...rest }) => ({
      ...rest,
      source: source_id,
      tag: tag_id,
      within: within_watch,
      from: since,
      to: until ?? Infinity,
    }));
  }

  /** Of a source's duty what is due by now: delivery takes a moment. */
  private due(source: number, duty: readonly Span[], watches: readonly WatchRow[]): Span[] {
    const due = this.now() - GRACE;
    const delivered = watches.reduce(
      (until, watch) => (watch.source === source ? Math.max(until, watch.to) : until),
      -Infinity,
    );
    const arriving = delivered > -Infinity && this.isArriving(source);
    return clip(duty, { from: -Infinity, to: arriving ? Math.min(due, delivered) : due });
  }

  /** The gaps of one tag; none for a tag without a source, which nobody is meant to watch. */
  async gapsOf(tag: TagRow, window: Span): Promise<Gap[]> {
    const [duty, watches, outages] = await Promise.all([
      dutyOfTag(this.database.pool, tag.id, window),
      this.watches(window),
      this.outages(window),
    ]);
    const sources = [...new Set(duty.map(({ source }) => source))];
    return sources
      .flatMap((source) => {
        const spans = duty.filter((span) => span.source === source);
        return this.gapsAmong(source, tag.id, spans, window, watches, outages);
      })
      .sort((a, b) => a.from - b.from);
  }

  private gapsAmong(
    source: number,
    tag: number | null,
    duty: readonly Span[],
    window: Span,
    watches: readonly WatchRow[],
    outages: readonly OutageRow[],
  ): Gap[] {
    const mine = outages.filter((outage) => outage.source === source && (outage.tag === 0 || outage.tag === tag));
    const watched = union(watches.filter((watch) => watch.source === source));
    return findGaps(window, this.due(source, duty, watches), subtract(watched, unwatched(mine)), mine);
  }

  /**
   * Rows of strips for a window: one per source, and one for each tag that differs from its source, by an outage or a
   * duty of its own; or the rows of the one tag that is asked for, one for each source that it had.
   */
  async rows(window: Span, only?: TagRow): Promise<CoverageRow[]> {
    const [watches, outages, groups] = await Promise.all([
      this.watches(window),
      this.outages(window),
      only ? this.groupsOf(only, window) : dutyGroups(this.database.pool, window),
    ]);
    const bySource = new Map<number, DutyGroup[]>();
    for (const group of groups) bySource.set(group.source, [...(bySource.get(group.source) ?? []), group]);
    const rows: CoverageRow[] = [];
    for (const [id, own] of bySource) {
      const source = this.catalogue.sourceById(id);
      if (!source) continue;
      const mine = watches.filter((watch) => watch.source === id);
      const row = (tag: TagRow | null, tags: number, duty: readonly Span[]): CoverageRow =>
        this.row(source, tag, tags, duty, window, mine, outages);
      const duty = union(own.flatMap(({ spans }) => spans));
      const tags = own.reduce((sum, group) => sum + group.tags.length, 0);
      if (!only) rows.push(row(null, tags, duty));
      for (const group of own) {
        const differs = only !== undefined || !sameSpans(group.spans, duty);
        for (const number of group.tags) {
          const tag = this.catalogue.tagById(number);
          if (tag && (differs || outages.some((outage) => outage.tag === number))) rows.push(row(tag, 1, group.spans));
        }
      }
    }
    return rows;
  }

  private async groupsOf(tag: TagRow, window: Span): Promise<DutyGroup[]> {
    const duty = await dutyOfTag(this.database.pool, tag.id, window);
    return [...new Set(duty.map(({ source }) => source))].map((source) => ({
      source,
      tags: [tag.id],
      spans: duty.filter((span) => span.source === source),
    }));
  }

  private row(
    source: SourceRow,
    tag: TagRow | null,
    tags: number,
    duty: readonly Span[],
    window: Span,
    watches: readonly WatchRow[],
    outages: readonly OutageRow[],
  ): CoverageRow {
    const concerning = tag ? outages : outages.filter((outage) => outage.tag === 0);
    const gaps = this.gapsAmong(source.id, tag?.id ?? null, duty, window, watches, concerning);
    const expected = totalLength(this.due(source.id, duty, watches));
    const own = unwatched(
      outages.filter((outage) => outage.source === source.id && (outage.tag === 0 || outage.tag === tag?.id)),
    );
    const spans = [...new Set(watches.map((watch) => watch.origin))].flatMap((origin) =>
      intersect(clip(subtract(union(watches.filter((watch) => watch.origin === origin)), own), window), duty).map(
        (span) => ({ ...span, origin }),
      ),
    );
    return {
      source: source.name,
      sourceId: source.id,
      tag: tag?.name ?? null,
      duty: duty.map(({ from, to }) => ({ from: formatInstant(from), to: formatInstant(to) })),
      spans: spans
        .sort((a, b) => a.from - b.from)
        .map(({ from, to, origin }) => ({ from: formatInstant(from), to: formatInstant(to), origin })),
      gaps: gaps.map((gap) => asGapAnswer(gap, source.name, tag?.name ?? null, tags)),
      watchedPercent: expected > 0 ? (1 - totalLength(gaps) / expected) * 100 : 100,
    };
  }
}

const sameSpans = (a: readonly Span[], b: readonly Span[]): boolean =>
  a.length === b.length && a.every((span, i) => span.from === b[i]!.from && span.to === b[i]!.to);

/** Time within watches in which nothing was read: of tags that could not be, and what was found out afterwards. */
const unwatched = (outages: readonly OutageRow[]): Span[] =>
  union(outages.filter(({ tag, within }) => tag !== 0 || within));

function asGapAnswer({ from, to, ...rest }: Gap, source: string, tag: string | null, tags: number): GapAnswer {
  return {
    from: formatInstant(from),
    to: formatInstant(to),
    seconds: (to - from) / SECOND,
    ...rest,
    source,
    tag,
    tags,
  };
}
