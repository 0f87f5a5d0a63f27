/** The blocks of one tag's ledger in a window: how they are asked for, and as a list in time order. */
import { PackedRuns, packedRanges, type RunParts } from '@wide-ledger/core';

/** The blocks of a window in time order. */
export interface BlockList {
  readonly firstTimes: Float64Array;
  readonly lastTimes: Float64Array;
  /** Position among the summaries; −1 for a block that has none. */
  readonly runAt: Int32Array;
  readonly runs: PackedRuns;
}

/** What is found of a window, stretch by stretch: packed summaries, and where the blocks without one lie. */
export interface FoundBlocks {
  readonly runs: Buffer[];
  readonly first: number[];
  readonly last: number[];
}

export interface BlockRow {
  runs: Buffer | null;
  first: string[] | null;
  last: string[] | null;
}

export interface NearBlock {
  first_time: number;
  last_time: number;
  summary: Buffer | null;
  usable: number;
}

/** As {@link summaryOf} does in SQL. */
export const pickRanges = (summary: Buffer, parts: RunParts): Buffer =>
  Buffer.concat(packedRanges(parts).map(({ from, to }) => summary.subarray(from * 8, to * 8)));

/** SQL for what is wanted of a packed summary: fetching a year's, the unwanted doubles would be most of the bytes. */
export const summaryOf = (parts: RunParts): string =>
  packedRanges(parts)
    .map(({ from, to }) => `substring(summary FROM ${from * 8 + 1} FOR ${(to - from) * 8})`)
    .join(' || ');

/** Blocks with summaries and blocks without, each in time order, in one order. */
export function listBlocks(runs: PackedRuns, first: readonly number[], last: readonly number[]): BlockList {
  const length = runs.length + first.length;
  const firstTimes = new Float64Array(length);
  const lastTimes = new Float64Array(length);
  const runAt = new Int32Array(length);
  for (let i = 0, run = 0, bare = 0; i < length; i++) {
    const isRun = run < runs.length && !(bare < first.length && first[bare]! < runs.firstTime(run));
    firstTimes[i] = isRun ? runs.firstTime(run) : first[bare]!;
    lastTimes[i] = isRun ? runs.lastTime(run) : last[bare]!;
    runAt[i] = isRun ? run++ : -1;
    if (!isRun) bare++;
  }
  return { firstTimes, lastTimes, runAt, runs };
}

/** The nearest blocks of one table on one side of a window with at least so many usable samples each. */
export function nearest(side: 'before' | 'after', table: string, needs: readonly number[]): string {
  const usable = 'good_samples + CASE WHEN $4 THEN uncertain_samples ELSE 0 END';
  const outside = side === 'before' ? 'first_time < $2 AND last_time < $2' : 'first_time >= $2';
  return needs
    .map(
      (need) => `(SELECT first_time, last_time, summary, ${usable} AS usable FROM ${table}
        WHERE tag_id = $1 AND first_time >= $3 AND first_time < $5::bigint AND ${outside} AND ${usable} >= ${need}
        ORDER BY first_time ${side === 'before' ? 'DESC' : ''} LIMIT 1)`,
    )
    .join(' UNION ALL ');
}
