/** The tallies of tags' months, kept in the transactions that change what is in them. */
import {
  EMPTY_TALLY,
  addTallies,
  decodeFrame,
  nextMonth,
  subtractTallies,
  tallyOf,
  type Frame,
  type Tally,
} from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import { blockTable } from './parts.ts';

/** What comes to a month of a tag, which begins at this microsecond; less what goes. */
export interface TallyChange {
  readonly tag: number;
  readonly month: number;
  readonly change: Tally;
}

/** Samples that are counted in one go, while the mark is held: a few tenths of a second of work. */
const COUNTED_AT_ONCE = 1_000_000;
/** Months that are looked at for it. */
const MONTHS_AT_ONCE = 2000;

/** How the tally of what was there changes. Mostly nothing is displaced, and only what comes has to be looked at. */
export function changeOf(before: readonly Frame[], added: readonly Frame[], after: Frame): Tally {
  const given = [...before, ...added].reduce((total, { times }) => total + times.length, 0);
  return given === after.times.length ? sum(added) : subtractTallies(tallyOf(after), sum(before));
}

const sum = (frames: readonly Frame[]): Tally =>
  frames.reduce((total, frame) => addTallies(total, tallyOf(frame)), EMPTY_TALLY);

/** Whether the tallies of all months are known. */
export async function isCounted(store: Pool): Promise<boolean> {
  const { rows } = await store.query<{ waits: boolean }>(
    'SELECT EXISTS (SELECT FROM ledger_month WHERE NOT counted) AS waits',
  );
  return !rows[0]!.waits;
}

/** Adds to the tallies of months; to be called by whoever holds the mark. Months without a row are none. */
export async function noteTallies(client: PoolClient, changes: readonly TallyChange[]): Promise<void> {
  if (changes.length === 0) return;
  const lane = (i: number): number[] => changes.map(({ change }) => change.lanes[i]!);
  await client.query(
    // Several changes may concern one month.
    `UPDATE ledger_month m SET samples = m.samples + c.samples,
       tally_1 = (m.tally_1 + c.t1) & 4294967295, tally_2 = (m.tally_2 + c.t2) & 4294967295,
       tally_3 = (m.tally_3 + c.t3) & 4294967295, tally_4 = (m.tally_4 + c.t4) & 4294967295
     FROM (SELECT tag, month, sum(samples)::bigint AS samples, sum(t1)::bigint AS t1, sum(t2)::bigint AS t2,
                  sum(t3)::bigint AS t3, sum(t4)::bigint AS t4
           FROM unnest($1::int[], $2::bigint[], $3::bigint[], $4::bigint[], $5::bigint[], $6::bigint[], $7::bigint[])
             AS one(tag, month, samples, t1, t2, t3, t4) GROUP BY tag, month) AS c
     WHERE m.tag_id = c.tag AND m.month = c.month`,
    [
      changes.map(({ tag }) => tag),
      changes.map(({ month }) => month),
      changes.map(({ change }) => change.count),
      lane(0),
      lane(1),
      lane(2),
      lane(3),
    ],
  );
}

/**
 * Counts months that were written by something else than posting (an earlier version, a move), those of the store's own
 * tags. To be called by whoever holds the mark.
 * @returns how many were counted; fewer than there are where they hold much.
 */
export async function countMonths(client: PoolClient, home: Pool, store: number): Promise<number> {
  const { rows: waiting } = await client.query<{ tag: number; month: number; part: string }>(
    `SELECT tag_id AS tag, month, part FROM ledger_month WHERE NOT counted
       AND to_regclass('ledger_block_' || part) IS NOT NULL ORDER BY tag_id LIMIT $1`,
    [MONTHS_AT_ONCE],
  );
  if (waiting.length === 0) return 0;
  // The copy of a tag that is on its way here grows without the mark: it is counted when it has arrived.
  const { rows: own } = await home.query<{ id: number }>(
    'SELECT id FROM tag WHERE store_id = $1 AND id = ANY($2::int[])',
    [store, waiting.map(({ tag }) => tag)],
  );
  const ids = new Set(own.map(({ id }) => id));
  let [counted, samples] = [0, 0];
  for (const { tag, month, part } of waiting) {
    if (!ids.has(tag)) continue;
    if (samples >= COUNTED_AT_ONCE) break;
    const { rows } = await client.query<{ frame: Buffer }>(
      `SELECT frame FROM ${blockTable(part)} WHERE tag_id = $1 AND first_time >= $2 AND first_time < $3`,
      [tag, month, nextMonth(month)],
    );
    const tally = sum(rows.map(({ frame }) => decodeFrame(frame)));
    await client.query(
      `UPDATE ledger_month SET counted = true, samples = $3, tally_1 = $4, tally_2 = $5, tally_3 = $6, tally_4 = $7
       WHERE tag_id = $1 AND month = $2`,
      [tag, month, tally.count, ...tally.lanes],
    );
    counted++;
    samples += tally.count;
  }
  return counted;
}
