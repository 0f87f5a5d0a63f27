/** A tag's samples out of ledger blocks and entries not yet posted, as one frame. */
import {
  decodeFrame,
  firstAtOrAfter,
  isGood,
  mergeFrames,
  monthStart,
  sliceFrame,
  splitByTag,
  type Frame,
} from '@wide-ledger/core';
import type { Database } from '../database/connect.ts';

interface FrameRow {
  kind: number;
  origin: number;
  frame: Buffer;
}

/**
 * Everything known of a tag from the last usable sample before `from` to the first one after `to`, in time order,
 * the latest entry standing for each time. One statement, hence one snapshot: posting moves samples from the
 * journal to the ledger between two statements, never within one.
 */
export async function loadFrame({ pool }: Database, tag: number, from: number, to: number): Promise<Frame> {
  const { rows } = await pool.query<FrameRow>({
    name: 'load_frame',
    text: `
      (SELECT 0 AS kind, 0 AS origin, first_time AS ord, frame FROM ledger_block
        WHERE tag_id = $1 AND first_time < $2 AND good_samples > 0 AND last_time < $2 ORDER BY first_time DESC LIMIT 1)
      UNION ALL
      (SELECT 0, 0, first_time, frame FROM ledger_block
        WHERE tag_id = $1 AND first_time < $2 AND last_time < $2 ORDER BY first_time DESC LIMIT 1)
      UNION ALL
      (SELECT 0, 0, first_time, frame FROM ledger_block
        WHERE tag_id = $1 AND first_time >= $4 AND first_time <= $3 AND last_time >= $2)
      UNION ALL
      (SELECT 0, 0, first_time, frame FROM ledger_block
        WHERE tag_id = $1 AND first_time > $3 ORDER BY first_time LIMIT 1)
      UNION ALL
      (SELECT 0, 0, first_time, frame FROM ledger_block
        WHERE tag_id = $1 AND first_time > $3 AND good_samples > 0 ORDER BY first_time LIMIT 1)
      UNION ALL
      (SELECT 1, j.origin, row_number() OVER (ORDER BY j.tx, j.id), j.frame FROM journal_entry j, posting p
        WHERE (j.tx, j.id) > (p.tx, p.id) AND j.tags @> ARRAY[$1::int])
      ORDER BY kind, ord`,
    values: [tag, from, to, monthStart(from)],
  });
  const frames: Frame[] = [];
  let last: Buffer | null = null;
  for (const row of rows) {
    if (row.kind === 0 && last?.equals(row.frame)) continue;
    last = row.frame;
    const frame = decodeFrame(row.frame);
    const mine = row.kind === 0 ? frame : splitByTag(frame, row.origin).get(tag);
    if (mine) frames.push(mine);
  }
  const merged = mergeFrames(frames).frame;
  return neighbourhood(merged, from, to);
}

/** The window's samples with the last usable one before it and the first usable one after it. */
function neighbourhood(frame: Frame, from: number, to: number): Frame {
  const { times, status } = frame;
  let low = firstAtOrAfter(times, from) - 1;
  while (low > 0 && !isGood(status[low]!)) low--;
  let high = firstAtOrAfter(times, to);
  while (high < times.length - 1 && !isGood(status[high]!)) high++;
  return sliceFrame(frame, Math.max(low, 0), Math.min(high + 1, times.length));
}

/**
 * Where a page of so many samples ends at the latest: the window's end, or the end of the block that fills it, so
 * that the first page of a year does not open the whole year.
 */
export async function pageEnd(
  { pool }: Database,
  tag: number,
  from: number,
  to: number,
  limit: number,
): Promise<number> {
  const { rows } = await pool.query<{ last_time: number }>({
    name: 'page_end',
    text: `SELECT last_time FROM (
        SELECT last_time, sum(samples) OVER (ORDER BY first_time) AS so_far, row_number() OVER (ORDER BY first_time) AS nth
        FROM ledger_block WHERE tag_id = $1 AND first_time >= $4 AND first_time < $3 AND last_time >= $2) AS run
      WHERE so_far >= $5 AND nth > 1 ORDER BY last_time LIMIT 1`,
    values: [tag, from, to, monthStart(from), limit],
  });
  return Math.min(to, (rows[0]?.last_time ?? Infinity) + 1);
}
