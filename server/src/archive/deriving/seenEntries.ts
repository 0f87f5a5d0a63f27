/** The journal as deriving reads it: on from where it was, and nothing of entries that hold none of its tags. */
import type { Pool } from 'pg';
import type { SeenEntry } from './deriver.ts';

/** Samples that are looked at in one go, and entries. */
const SAMPLES = 100_000;
const ENTRIES = 2000;
/** Before all times. Microseconds. */
const LEAST = -9_000_000_000_000_000;
/** The database looks for no more tags than these in each entry: for more, opening all of them is quicker. */
const LOOKED_FOR = 200;

export interface Seen {
  readonly entries: readonly SeenEntry[];
  /** How far the journal had been looked through. */
  readonly from: number;
  /** How far it is with these entries. */
  readonly to: number;
  /** Whether there are more. */
  readonly more: boolean;
  /** When the oldest of them was received, microseconds. */
  readonly oldest: number;
}

/**
 * @param tags whose samples are wanted; none: everything is passed over
 * @param horizon of entries that end before it nothing but their tags is wanted. Microseconds
 */
export async function nextSeen(home: Pool, tags: readonly number[], horizon: number): Promise<Seen> {
  const { rows: at } = await home.query<{ entry: number; frontier: number }>(
    'SELECT entry, journal_frontier() AS frontier FROM derivation',
  );
  const { entry: from, frontier } = at[0]!;
  if (tags.length === 0) return { entries: [], from, to: Math.max(from, frontier), more: false, oldest: 0 };
  const { rows } = await home.query<SeenEntry & { id: number; received: number }>({
    name: 'seen_entries',
    text: `SELECT id, writer, origin, received,
             CASE WHEN last_time >= $4 AND ($2::int[] IS NULL OR tags && $2) THEN frame END AS frame,
             CASE WHEN last_time < $4 THEN tags END AS old FROM (
        SELECT id, writer, origin, frame, tags, last_time, (extract(epoch FROM received_at) * 1000000)::bigint AS received,
               sum(samples) OVER (ORDER BY id) - samples AS before
        FROM journal_entry WHERE id > $1 AND id <= $3 ORDER BY id LIMIT ${ENTRIES}) AS next
      WHERE before < ${SAMPLES} ORDER BY id`,
    values: [from, tags.length > LOOKED_FOR ? null : tags, frontier, Math.max(horizon, LEAST)],
  });
  const last = rows.at(-1)?.id ?? frontier;
  return {
    entries: rows,
    from,
    to: rows.length === 0 ? Math.max(from, frontier) : last,
    more: rows.length > 0 && last < frontier,
    oldest: rows[0]?.received ?? 0,
  };
}
