/** Time in which something was not read because somebody paused it: no gap of duty, and said all the same, with who and why. */
import type { Gap } from '@wide-ledger/contract';
import { clip, formatInstant, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Catalogue, TagRow } from '../../configuration/index.ts';

/** So many are told of; who pauses thousands of tags pauses their source. */
const MOST_PAUSES = 1000;
const ENDLESS = 9_000_000_000_000_000;

interface Row {
  readonly kind: 'source' | 'tag';
  readonly id: number;
  readonly since: number;
  readonly until: number | null;
  readonly put_by: string;
  readonly reason: string;
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
export async function pausesIn(home: Pool, catalogue: Catalogue, window: Span, tag?: TagRow): Promise<Gap[]> {
  const { rows } = await home.query<Row>(
    `SELECT d.kind, d.id, (extract(epoch FROM f.at) * 1000000)::bigint AS since, (extract(epoch FROM t.at) * 1000000)::bigint AS until,
            f.put_by, f.reason
     FROM definition d JOIN configuration_version f ON f.number = d.version_from
     LEFT JOIN configuration_version t ON t.number = d.version_to
     WHERE d.body ->> 'paused' = 'true' AND f.at < to_timestamp($2 / 1e6) AND (t.at IS NULL OR t.at > to_timestamp($1 / 1e6))
       AND ($3::int IS NULL OR (d.kind = 'tag' AND d.id = $3) OR (d.kind = 'source' AND d.id = $4))
     ORDER BY d.kind, d.id, d.version_from LIMIT $5`,
    [window.from, window.to, tag?.id ?? null, tag?.sourceId ?? null, MOST_PAUSES],
  );
  return joined(rows).flatMap(({ kind, id, since, until, put_by, reason }) => {
    const [span] = clip([{ from: Number(since), to: until === null ? ENDLESS : Number(until) }], window);
    if (!span) return [];
    const paused = kind === 'tag' ? catalogue.tagById(id) : undefined;
    const source = catalogue.sourceById(kind === 'source' ? id : (paused?.sourceId ?? 0));
    return [
      {
        from: formatInstant(span.from),
        to: formatInstant(span.to),
        seconds: (span.to - span.from) / 1e6,
        cause: 'paused' as const,
        sentence: `Paused by ${put_by}.${reason === '' ? '' : ` ${reason}`}`,
        code: null,
        recoverable: false,
        source: source?.name ?? null,
        tag: paused?.name ?? null,
        tags: kind === 'tag' ? 1 : catalogue.tags.filter(({ sourceId }) => sourceId === id).length,
      },
    ];
  });
}
