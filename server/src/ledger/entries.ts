/** The journal's entries as posting and reading see them: what comes after a mark, in commit order. */
import { decodeFrame, partOfTag, type Frame } from '@wide-ledger/core';
import type { ClientBase, Pool } from 'pg';

/** How far a store has posted the journal: the last entry that its ledger holds. */
export interface Mark {
  readonly tx: string;
  readonly id: number;
}

export interface EntryRow extends Mark {
  readonly writer: string;
  readonly origin: number;
  readonly samples: number;
  readonly received_at: Date;
  readonly reason: string | null;
  /** Null where the entry holds nothing of the tags asked for. */
  readonly frame: Buffer | null;
}

/**
 * The next entries in commit order, up to so many samples. Only transactions below the oldest still running one:
 * above it another could yet commit with a smaller number and would be passed over.
 * @param store frames of entries without any tag of this store are left out.
 */
export async function nextEntries(home: Pool, after: Mark, store: number, samples: number): Promise<EntryRow[]> {
  const { rows } = await home.query<EntryRow>({
    name: 'next_entries',
    text: `SELECT tx::text AS tx, id, writer, origin, samples, received_at, reason,
        CASE WHEN tags && own.ids OR own.everything THEN frame END AS frame
      FROM (SELECT count(*) FILTER (WHERE store_id <> $4) = 0 AS everything,
                   coalesce(array_agg(id) FILTER (WHERE store_id = $4), '{}') AS ids FROM tag) AS own, LATERAL (
        SELECT j.*, sum(j.samples) OVER (ORDER BY j.tx, j.id) - j.samples AS before FROM journal_entry j
        WHERE (j.tx, j.id) > ($1::text::xid8, $2::bigint) AND j.tx < pg_snapshot_xmin(pg_current_snapshot())
        ORDER BY j.tx, j.id LIMIT 5000) AS next WHERE before < $3 ORDER BY next.tx, next.id`,
    values: [after.tx, after.id, samples, store],
  });
  return rows;
}

export interface Waiting {
  readonly entries: number;
  readonly samples: number;
  /** For how long the oldest has waited. */
  readonly milliseconds: number;
}

/** What waits to be posted after a mark. */
export async function waitingSince(home: Pool, after: Mark): Promise<Waiting> {
  const { rows } = await home.query<Waiting>({
    name: 'waiting_since',
    text: `SELECT count(*) AS entries, coalesce(sum(samples), 0)::bigint AS samples,
             coalesce(extract(epoch FROM clock_timestamp() - min(received_at)) * 1000, 0)::float8 AS milliseconds
           FROM journal_entry WHERE (tx, id) > ($1::text::xid8, $2::bigint)`,
    values: [after.tx, after.id],
  });
  return rows[0]!;
}

/** One tag's samples in an entry that is not posted yet. */
export interface FreshFrame {
  readonly frame: Frame;
  readonly entry: Pick<EntryRow, 'tx' | 'id' | 'writer' | 'received_at' | 'reason'>;
}

/** A tag's samples in entries after a mark, oldest entry first. */
export async function freshFrames(home: Pool | ClientBase, after: Mark, tag: number): Promise<FreshFrame[]> {
  const { rows } = await home.query<Omit<EntryRow, 'frame'> & { frame: Buffer }>({
    name: 'fresh_frames',
    text: `SELECT tx::text AS tx, id, writer, origin, samples, received_at, reason, frame FROM journal_entry
           WHERE (tx, id) > ($1::text::xid8, $2::bigint) AND tags @> ARRAY[$3::int] ORDER BY journal_entry.tx, id`,
    values: [after.tx, after.id, tag],
  });
  return rows.flatMap(({ frame, origin, ...entry }) => {
    const mine = partOfTag(decodeFrame(frame), origin, tag);
    return mine ? [{ frame: mine, entry }] : [];
  });
}

/** The mark of a store. Within a snapshot it belongs to the blocks of that snapshot. */
export async function markOf(store: Pool | ClientBase): Promise<Mark> {
  const { rows } = await store.query<Mark>('SELECT tx::text AS tx, id FROM posting');
  return rows[0]!;
}
