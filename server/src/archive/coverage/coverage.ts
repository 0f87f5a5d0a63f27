/** Until when a tag was watched, and the gaps of one tag: what readings have to know before they begin. */
import { SourceCoverage, type DutyGroup, type Gap, type GapExplanation, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { TagRow } from '../../configuration/index.ts';
import { nowMicros } from '../../ground/index.ts';
import { explanationsOf } from './explanations.ts';
import { missingOf, type MissingOfTag } from './missing.ts';
import { recordsOf, type Present } from './records.ts';

export class Coverage {
  constructor(
    private readonly home: Pool,
    /** The sources that a collector which reports is just watching. */
    private readonly arriving: () => readonly number[],
    private readonly now: () => number = nowMicros,
  ) {}

  get present(): Present {
    return { now: this.now(), arriving: this.arriving() };
  }

  /** What is neither watched nor recovered of tags, by their numbers. */
  missingOf(tags: readonly TagRow[], window: Span): Promise<Map<number, MissingOfTag>> {
    return missingOf(this.home, tags, window, this.present);
  }

  /** What people said of sources and their tags in a window, by source. */
  explanationsOf(
    window: Span,
    groups: readonly (DutyGroup & { readonly source: number })[],
  ): Promise<Map<number, GapExplanation[]>> {
    return explanationsOf(this.home, window, groups);
  }

  /** The end of a tag's last watch: of the watches of its sources within its duty; −∞ without one. */
  async watchedUntil(tag: TagRow): Promise<number> {
    return (await this.watchedUntilOf([tag.id])).get(tag.id) ?? -Infinity;
  }

  /** Of several tags, by their numbers; those that nobody watched are missing. */
  async watchedUntilOf(tags: readonly number[]): Promise<Map<number, number>> {
    const { rows } = await this.home.query<{ tag: number; until: number }>({
      name: 'watched_until',
      text: `SELECT d.tag_id AS tag, max(least(w.until, d.until)) AS until FROM duty d,
               LATERAL (SELECT max(until) AS until FROM watch WHERE source_id = d.source_id) AS w
             WHERE d.tag_id = ANY($1::int[]) AND w.until > d.since GROUP BY d.tag_id`,
      values: [tags],
    });
    return new Map(rows.map(({ tag, until }) => [tag, until]));
  }

  /** The gaps of one tag; none for a tag without a source, which nobody is meant to watch. */
  async gapsOf(tag: TagRow, window: Span): Promise<Gap[]> {
    const records = await recordsOf(this.home, window, this.present, tag.id);
    return [...records.values()]
      .flatMap((record) => {
        const coverage = new SourceCoverage(window, record);
        return coverage.tag(tag.id, coverage.duty).gaps;
      })
      .sort((a, b) => a.from - b.from);
  }
}
