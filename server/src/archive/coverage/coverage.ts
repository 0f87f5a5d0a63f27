/** What was watched and what was not, per source and per tag. */
import type { CoverageRow, Gap as GapAnswer } from '@wide-ledger/contract';
import {
  SECOND,
  clip,
  findGaps,
  formatInstant,
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

  /** The end of a source's last watch; −∞ without one. */
  async watchedUntil(source: number): Promise<number> {
    const { rows } = await this.database.pool.query<{ until: number | null }>({
      name: 'watched_until',
      text: 'SELECT max(until) AS until FROM watch WHERE source_id = $1',
      values: [source],
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

  /** The time in a window in which a tag was meant to be collected. */
  private expected(tag: TagRow, window: Span, watches: readonly WatchRow[]): Span[] {
    const from = Math.max(window.from, tag.inForceSince.getTime() * 1000);
    const due = this.now() - GRACE;
    const delivered = watches.reduce(
      (until, watch) => (watch.source === tag.sourceId ? Math.max(until, watch.to) : until),
      -Infinity,
    );
    const arriving = delivered > -Infinity && this.isArriving(tag.sourceId!);
    return union([{ from, to: Math.min(window.to, arriving ? Math.min(due, delivered) : due) }]);
  }

  /** The gaps of one tag; none for a tag without a source, which nobody is meant to watch. */
  async gapsOf(tag: TagRow, window: Span): Promise<Gap[]> {
    if (tag.sourceId === null) return [];
    const [watches, outages] = await Promise.all([this.watches(window), this.outages(window)]);
    return this.gapsAmong(tag, window, watches, outages);
  }

  private gapsAmong(tag: TagRow, window: Span, watches: readonly WatchRow[], outages: readonly OutageRow[]): Gap[] {
    const mine = outages.filter(
      (outage) => outage.source === tag.sourceId && (outage.tag === 0 || outage.tag === tag.id),
    );
    const watched = union(watches.filter((watch) => watch.source === tag.sourceId));
    return findGaps(window, this.expected(tag, window, watches), subtract(watched, unwatched(mine)), mine);
  }

  /**
   * Rows of strips for a window: one per source, and one for each tag that differs from its source by an outage of
   * its own; or the one row of the tag that is asked for.
   */
  async rows(window: Span, only?: TagRow): Promise<CoverageRow[]> {
    const [watches, outages] = await Promise.all([this.watches(window), this.outages(window)]);
    const rows: CoverageRow[] = [];
    for (const source of this.catalogue.sources) {
      const tags = this.catalogue.tags.filter((tag) => tag.sourceId === source.id);
      const eldest = tags.reduce<TagRow | undefined>(
        (found, tag) => (found && found.inForceSince <= tag.inForceSince ? found : tag),
        undefined,
      );
      if (!eldest || (only && only.sourceId !== source.id)) continue;
      const mine = watches.filter((watch) => watch.source === source.id);
      const sourceOutages = outages.filter((outage) => outage.source === source.id && outage.tag === 0);
      const differing = only ? [only] : tags.filter((tag) => outages.some((outage) => outage.tag === tag.id));
      if (!only) rows.push(this.row(source, null, eldest, tags.length, window, mine, sourceOutages));
      for (const tag of differing) rows.push(this.row(source, tag, tag, 1, window, mine, outages));
    }
    return rows;
  }

  private row(
    source: SourceRow,
    tag: TagRow | null,
    expectedAs: TagRow,
    tags: number,
    window: Span,
    watches: readonly WatchRow[],
    outages: readonly OutageRow[],
  ): CoverageRow {
    const gaps = this.gapsAmong(expectedAs, window, watches, outages);
    const expected = totalLength(this.expected(expectedAs, window, watches));
    const own = unwatched(
      outages.filter((outage) => outage.source === source.id && (outage.tag === 0 || outage.tag === tag?.id)),
    );
    const spans = [...new Set(watches.map((watch) => watch.origin))].flatMap((origin) =>
      clip(subtract(union(watches.filter((watch) => watch.origin === origin)), own), window).map((span) => ({
        ...span,
        origin,
      })),
    );
    return {
      source: source.name,
      sourceId: source.id,
      tag: tag?.name ?? null,
      spans: spans
        .sort((a, b) => a.from - b.from)
        .map(({ from, to, origin }) => ({ from: formatInstant(from), to: formatInstant(to), origin })),
      gaps: gaps.map((gap) => asGapAnswer(gap, source.name, tag?.name ?? null, tags)),
      watchedPercent: expected > 0 ? (1 - totalLength(gaps) / expected) * 100 : 100,
    };
  }
}

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
