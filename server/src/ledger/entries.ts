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
        CASE WHEN own.ids IS NULL OR tags && own.ids THEN frame END AS frame
      FROM (SELECT CASE WHEN EXISTS (SELECT FROM tag WHERE store_id < $4 OR store_id > $4)
                        THEN coalesce((SELECT array_agg(id) FROM tag WHERE store_id = $4), '{}') END AS ids) AS own, LATERAL (
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

/** What of a tag is not posted yet, oldest entry first, and the store that the tag is in. */
export interface FreshPart {
  /** Null when there is no such tag. */
  readonly store: number | null;
  readonly frames: readonly FreshFrame[];
}

/**
 * A tag's samples in entries after a mark.
 * @param after the mark of the tag's store; null: the mark of the home database itself.
 */
export async function freshPart(home: Pool | ClientBase, tag: number, after: Mark | null): Promise<FreshPart> {
  const { rows } = await home.query<Omit<EntryRow, 'frame'> & { store: number; frame: Buffer | null }>({
    name: 'fresh_part',
    text: `SELECT t.store_id AS store, j.* FROM tag t CROSS JOIN posting p LEFT JOIN LATERAL (
             SELECT e.tx::text AS tx, e.id, e.writer, e.origin, e.samples, e.received_at, e.reason, e.frame FROM journal_entry e
             WHERE (e.tx, e.id) > (coalesce($2::text::xid8, p.tx), coalesce($3::bigint, p.id)) AND e.tags @> ARRAY[$1::int]
             ORDER BY e.tx, e.id) AS j ON true
           WHERE t.id = $1`,
    values: [tag, after?.tx ?? null, after?.id ?? null],
  });
  const frames = rows.flatMap(({ frame, store: _store, ...entry }) => {
    const mine = frame && partOfTag(decodeFrame(frame), entry.origin, tag);
    return mine ? [{ frame: mine, entry }] : [];
  });
  return { store: rows[0]?.store ?? null, frames };
}

/** The mark of a store. Within a snapshot it belongs to the blocks of that snapshot. */
export async function markOf(store: Pool | ClientBase): Promise<Mark> {
  const { rows } = await store.query<Mark>('SELECT tx::text AS tx, id FROM posting');
  return rows[0]!;
}
