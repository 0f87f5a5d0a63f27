/** The journal's entries as posting and reading see them: what comes after a mark, in their own order. */
import { decodeFrame, partOfTag, splitByTag, type Frame } from '@wide-ledger/core';
import type { ClientBase, Pool } from 'pg';
import { Turns } from '../../ground/index.ts';

/** Samples that are taken apart before others have their turn. */
const SAMPLES_A_TURN = 50_000;

export interface EntryRow {
  /** Its number, which is its place in the journal. */
  readonly id: number;
  readonly writer: string;
  readonly origin: number;
  readonly samples: number;
  readonly received_at: Date;
  readonly reason: string | null;
  /** Null where the entry holds nothing of the tags asked for. */
  readonly frame: Buffer | null;
}

/**
 * The next entries, up to so many samples, and none beyond which the journal is not complete yet.
 * @param after number of the last entry that is posted.
 * @param store frames of entries without any tag of this store are left out.
 */
export async function nextEntries(home: Pool, after: number, store: number, samples: number): Promise<EntryRow[]> {
  // A statement of its own: what is committed by now is seen by the next one.
  const { rows: known } = await home.query<{ frontier: number }>({
    name: 'journal_frontier',
    text: 'SELECT journal_frontier() AS frontier',
  });
  const { frontier } = known[0]!;
  if (frontier <= after) return [];
  const { rows } = await home.query<EntryRow>({
    name: 'next_entries',
    text: `SELECT id, writer, origin, samples, received_at, reason,
        CASE WHEN own.ids IS NULL OR tags && own.ids THEN frame END AS frame
      FROM (SELECT CASE WHEN EXISTS (SELECT FROM tag WHERE store_id < $3 OR store_id > $3)
                        THEN coalesce((SELECT array_agg(id) FROM tag WHERE store_id = $3), '{}') END AS ids) AS own, LATERAL (
        SELECT j.*, sum(j.samples) OVER (ORDER BY j.id) - j.samples AS before FROM journal_entry j
        WHERE j.id > $1 AND j.id <= $4 ORDER BY j.id LIMIT 5000) AS next WHERE before < $2 ORDER BY next.id`,
    values: [after, samples, store, frontier],
  });
  return rows;
}

/** What waits to be posted to a store. */
export interface Backlog {
  readonly entries: number;
  readonly samples: number;
  /** For how long the oldest has waited. */
  readonly milliseconds: number;
  /** Number of the last entry that was begun: below the mark where the journal is older than the store. */
  readonly last: number;
}

/** What the journal holds beyond a mark. @param mark number of the last posted entry. */
export async function backlogAfter(home: Pool, mark: number): Promise<Backlog> {
  const { rows } = await home.query<Backlog>({
    name: 'backlog_after',
    text: `SELECT count(*) AS entries, coalesce(sum(samples), 0)::bigint AS samples,
             coalesce(extract(epoch FROM clock_timestamp() - min(received_at)) * 1000, 0)::float8 AS milliseconds,
             journal_last() AS last FROM journal_entry WHERE id > $1`,
    values: [mark],
  });
  return rows[0]!;
}

/** One tag's samples in an entry that is not posted yet. */
export interface FreshFrame {
  readonly frame: Frame;
  readonly entry: Pick<EntryRow, 'id' | 'writer' | 'received_at' | 'reason'>;
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
export async function freshPart(home: Pool | ClientBase, tag: number, after: number | null): Promise<FreshPart> {
  const { rows } = await home.query<Omit<EntryRow, 'frame'> & { store: number; frame: Buffer | null }>({
    name: 'fresh_part',
    text: `SELECT t.store_id AS store, j.* FROM tag t CROSS JOIN posting p LEFT JOIN LATERAL (
             SELECT e.id, e.writer, e.origin, e.samples, e.received_at, e.reason, e.frame FROM journal_entry e
             WHERE e.id > coalesce($2::bigint, p.entry) AND e.tags @> ARRAY[$1::int]
             ORDER BY e.id) AS j ON true
           WHERE t.id = $1`,
    values: [tag, after],
  });
  const frames = rows.flatMap(({ frame, store: _store, ...entry }) => {
    const mine = frame && partOfTag(decodeFrame(frame), entry.origin, tag);
    return mine ? [{ frame: mine, entry }] : [];
  });
  return { store: rows[0]?.store ?? null, frames };
}

/** What of some tags is not posted yet, and the stores that they are in; a tag that is no more is in none. */
export interface FreshParts {
  readonly stores: ReadonlyMap<number, number>;
  /** By tag, oldest entry first. */
  readonly frames: ReadonlyMap<number, readonly Frame[]>;
}

/**
 * The samples of many tags in entries after a mark: each entry is opened once, whoever's samples it holds.
 * @param after the mark of the tags' store.
 */
export async function freshParts(home: Pool | ClientBase, tags: readonly number[], after: number): Promise<FreshParts> {
  const { rows: known } = await home.query<{ id: number; store: number }>(
    'SELECT id, store_id AS store FROM tag WHERE id = ANY($1::int[])',
    [tags],
  );
  const { rows } = await home.query<Pick<EntryRow, 'origin'> & { frame: Buffer }>(
    'SELECT origin, frame FROM journal_entry WHERE id > $2 AND tags && $1::int[] ORDER BY id',
    [tags, after],
  );
  const wanted = new Set(tags);
  const frames = new Map<number, Frame[]>();
  const turns = new Turns(SAMPLES_A_TURN);
  for (const { frame, origin } of rows) {
    const parts = splitByTag(decodeFrame(frame), origin);
    let samples = 0;
    for (const [tag, part] of parts) {
      samples += part.times.length;
      const mine = frames.get(tag);
      if (mine) mine.push(part);
      else if (wanted.has(tag)) frames.set(tag, [part]);
    }
    await turns.after(samples);
  }
  return { stores: new Map(known.map(({ id, store }) => [id, store])), frames };
}

/** The number of the last entry that a store has posted. Within a snapshot it belongs to the blocks of that snapshot. */
export async function markOf(store: Pool | ClientBase): Promise<number> {
  const { rows } = await store.query<{ entry: number | null }>('SELECT entry FROM posting');
  const { entry } = rows[0]!;
  if (entry === null) throw new Error('The store was made by an earlier version and was not brought up to date yet.');
  return entry;
}
