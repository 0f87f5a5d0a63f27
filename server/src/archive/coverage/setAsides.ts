/** Stretches in which values of a tag came and could not be kept: watched, and yet nothing is there. */
import type { Gap } from '@wide-ledger/contract';
import { SECOND, formatInstant } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { NO_GAP_OF_DUTY } from './duties.ts';
import type { Among } from './sourceless.ts';

/** So many are told of, the latest. */
const MOST = 1000;
/** Values that are not farther apart are of one stretch. */
const APART = 600 * SECOND;

interface Row {
  readonly tag: string;
  readonly source: string | null;
  readonly since: number;
  readonly until: number;
  readonly values: number;
  readonly reason: string;
}

/** Stretches of a window, of all tags or of some. */
export async function setAsidesIn(home: Pool, { window, only, among, place }: Among): Promise<Gap[]> {
  const { rows } = await home.query<Row>(
    `SELECT tag, source, min(time) AS since, max(time) AS until, count(*)::int AS values, min(reason) AS reason
     FROM (SELECT *, count(*) FILTER (WHERE apart) OVER (PARTITION BY tag ORDER BY time) AS stretch
           FROM (SELECT t.name AS tag, s.name AS source, a.time, a.reason,
                        a.time - lag(a.time) OVER (PARTITION BY t.id ORDER BY a.time) > ${APART} AS apart
                 FROM set_aside a JOIN tag t ON t.name = a.tag LEFT JOIN source s ON s.id = t.source_id
                 WHERE a.time >= $1 AND a.time < $2 AND ($3::int IS NULL OR t.id = $3) AND ($4::int[] IS NULL OR t.id = ANY($4))
                   AND ($5::text IS NULL OR t.place = $5 OR starts_with(t.place, $5 || ' / '))) AS known) AS numbered
     GROUP BY tag, source, stretch ORDER BY since DESC LIMIT ${MOST}`,
    [window.from, window.to, only, among, place],
  );
  return rows.map(({ tag, source, since, until, values, reason }) => ({
    from: formatInstant(since),
    to: formatInstant(until),
    seconds: (until - since) / SECOND,
    cause: 'set aside' as const,
    sentence: `${values === 1 ? 'A value came and was' : `${values} values came and were`} set aside: ${reason}`,
    ...NO_GAP_OF_DUTY,
    source,
    tag,
    tags: 1,
  }));
}
