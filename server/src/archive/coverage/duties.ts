/** The duty of sources and tags in a window, as the versions of the configuration have it. */
import { clip, intersect, union, type DutyGroup, type DutySpan, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';

/** The end of what has none. */
export const ENDLESS = 9_000_000_000_000_000;

/** What is told along with the gaps and is none of duty: nobody fetches it, and it has no fate. */
export const NO_GAP_OF_DUTY = {
  code: null,
  recoverable: false,
  state: 'open',
  fate: '',
  explained: null,
} as const;

/** The duty of one tag: while it was in force, had a source, and neither was paused. In ascending time. */
export async function dutyOfTag(home: Pool, tag: number, window: Span): Promise<DutySpan[]> {
  const { rows } = await home.query<{ source_id: number; since: number; until: number | null }>({
    name: 'duty_of_tag',
    text: 'SELECT source_id, since, until FROM duty WHERE tag_id = $1 AND since < $3 AND coalesce(until, $4) > $2',
    values: [tag, window.from, window.to, ENDLESS],
  });
  const open = await sourceDuties(home, window);
  return rows
    .flatMap(({ source_id: source, since, until }) =>
      clip(intersect([{ from: since, to: until ?? ENDLESS }], open.get(source) ?? []), window).map((span) => ({
        ...span,
        source,
      })),
    )
    .sort((a, b) => a.from - b.from);
}

/** The duties of all tags, those of one source that were the same together: mostly one group a source. */
export async function dutyGroups(home: Pool, window: Span): Promise<(DutyGroup & { readonly source: number })[]> {
  const [open, { rows }] = await Promise.all([
    sourceDuties(home, window),
    home.query<{ source_id: number; since: number[]; until: number[]; tags: number[] }>({
      name: 'duty_groups',
      text: `SELECT source_id, since, until, array_agg(tag_id ORDER BY tag_id) AS tags FROM (
          SELECT source_id, tag_id, array_agg(greatest(since, $1) ORDER BY since) AS since,
                 array_agg(least(coalesce(until, $3), $2) ORDER BY since) AS until
          FROM duty WHERE since < $2 AND coalesce(until, $3) > $1 GROUP BY source_id, tag_id) AS one
        GROUP BY source_id, since, until ORDER BY source_id, count(*) DESC`,
      values: [window.from, window.to, ENDLESS],
    }),
  ]);
  return rows.map(({ source_id: source, since, until, tags }) => {
    const spans = union(since.map((from, i) => ({ from: Number(from), to: Number(until[i]) })));
    return { source, tags, spans: intersect(spans, open.get(source) ?? []) };
  });
}

/** When each source was meant to be read at all. */
async function sourceDuties(home: Pool, window: Span): Promise<Map<number, Span[]>> {
  const { rows } = await home.query<{ source_id: number; since: number; until: number | null }>({
    name: 'source_duties',
    text: 'SELECT source_id, since, until FROM source_duty WHERE since < $2 AND coalesce(until, $3) > $1 ORDER BY since',
    values: [window.from, window.to, ENDLESS],
  });
  const duties = new Map<number, Span[]>();
  for (const { source_id, since, until } of rows) {
    const span = { from: since, to: until ?? ENDLESS };
    const known = duties.get(source_id);
    if (known) known.push(span);
    else duties.set(source_id, [span]);
  }
  return duties;
}
