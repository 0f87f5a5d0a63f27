/** Time in which something was not read because somebody paused it: no gap of duty, and said all the same, with who and why. */
import type { Gap } from '@wide-ledger/contract';
import { clip, formatInstant, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { ENDLESS, NO_GAP_OF_DUTY } from './duties.ts';

/** So many are told of; who pauses thousands of tags pauses their source. */
const MOST_PAUSES = 1000;

interface Row {
  readonly kind: 'source' | 'tag';
  readonly id: number;
  readonly since: number;
  readonly until: number | null;
  readonly put_by: string;
  readonly reason: string;
  readonly source: string | null;
  readonly tag: string | null;
  readonly tags: number;
}

/** A pause that other changes did not end: of touching rows the first says who and why. */
function joined(rows: readonly Row[]): Row[] {
  const pauses: Row[] = [];
  for (const row of rows) {
    const last = pauses.at(-1);
    if (last?.kind === row.kind && last.id === row.id && last.until === row.since)
      pauses[pauses.length - 1] = { ...last, until: row.until };
    else pauses.push(row);
  }
  return pauses;
}

/** Pauses in a window, of all or of one tag and its source. */
export async function pausesIn(home: Pool, window: Span, tag: number | null): Promise<Gap[]> {
  const { rows } = await home.query<Row>(
    `SELECT d.kind, d.id, (extract(epoch FROM f.at) * 1000000)::bigint AS since, (extract(epoch FROM t.at) * 1000000)::bigint AS until,
            f.put_by, f.reason, g.name AS tag, s.name AS source,
            CASE d.kind WHEN 'tag' THEN 1 ELSE (SELECT count(*)::int FROM tag o WHERE o.source_id = d.id) END AS tags
     FROM definition d LEFT JOIN tag g ON d.kind = 'tag' AND g.id = d.id
     LEFT JOIN source s ON s.id = CASE d.kind WHEN 'source' THEN d.id ELSE g.source_id END JOIN configuration_version f ON f.number = d.version_from
     LEFT JOIN configuration_version t ON t.number = d.version_to
     WHERE d.body ->> 'paused' = 'true' AND f.at < to_timestamp($2 / 1e6) AND (t.at IS NULL OR t.at > to_timestamp($1 / 1e6))
       AND ($3::int IS NULL OR (d.kind = 'tag' AND d.id = $3) OR (d.kind = 'source' AND d.id = (SELECT source_id FROM tag WHERE id = $3)))
     ORDER BY d.kind, d.id, d.version_from LIMIT $4`,
    [window.from, window.to, tag, MOST_PAUSES],
  );
  return joined(rows).flatMap(({ since, until, put_by, reason, source, tag: paused, tags }) => {
    const [span] = clip([{ from: Number(since), to: until === null ? ENDLESS : Number(until) }], window);
    if (!span) return [];
    return [
      {
        from: formatInstant(span.from),
        to: formatInstant(span.to),
        seconds: (span.to - span.from) / 1e6,
        cause: 'paused' as const,
        sentence: `Paused by ${put_by}.${reason === '' ? '' : ` ${reason}`}`,
        ...NO_GAP_OF_DUTY,
        source,
        tag: paused,
        tags,
      },
    ];
  });
}
