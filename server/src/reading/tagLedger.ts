/** One tag's history as one snapshot shows it: blocks of its store's ledger, and entries not yet posted. */
import {
  decodeFrame,
  firstAtOrAfter,
  mergeFrames,
  monthStart,
  sliceFrame,
  unpackRuns,
  withoutRemoved,
  type Frame,
  type RunSummary,
} from '@wide-ledger/core';
import type { PoolClient } from 'pg';
import { freshFrames, markOf, type FreshFrame } from '../ledger/entries.ts';
import { EMBEDDED, type Stores } from '../stores/stores.ts';

/** What a reader is handed, in ascending time: samples, or the summaries of whole runs of them. */
export type Piece =
  | { readonly kind: 'samples'; readonly frame: Frame }
  | { readonly kind: 'summaries'; readonly runs: readonly RunSummary[] };

/** What a reader of pieces says of itself. */
export interface PieceReader {
  /** Whether a run may come as its summary. */
  readonly takesWhole: (firstTime: number, lastTime: number) => boolean;
  /** Whether it needs the neighbours of the window: the nearest samples, and the nearest two that can be used. */
  readonly neighbours: boolean;
  /** Whether an Uncertain sample can be used as a neighbour. */
  readonly usesUncertain: boolean;
}

/** Blocks opened in one query: enough to amortise it, few enough to keep memory flat. */
const BLOCKS_AT_ONCE = 64;

interface BlockPlace {
  readonly first: number;
  readonly last: number;
  readonly run: RunSummary | null;
}

/**
 * Opens a tag's history as one snapshot: repeatable, so that posting, which moves samples from the journal to the
 * ledger, and retention never show a half-done state. To be closed by whoever opened it.
 */
export async function openTagLedger(
  stores: Stores,
  tag: { readonly id: number; readonly store: number },
): Promise<TagLedger> {
  const pool = await stores.pool(tag.store);
  const client = await pool.connect();
  try {
    await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
    const mark = await markOf(client);
    // In a further store the journal is read after the snapshot was taken: it shows at least what the ledger misses.
    const home = tag.store === EMBEDDED ? client : stores.home;
    const fresh = await freshFrames(home, mark, tag.id);
    const { rows } = await home.query<{ store_id: number }>('SELECT store_id FROM tag WHERE id = $1', [tag.id]);
    const current = rows[0]?.store_id ?? tag.store;
    if (current === tag.store) return new TagLedger(client, tag.id, fresh);
    await client.query('ROLLBACK');
    client.release();
    // It was moved meanwhile: its history is where it is now.
    return await openTagLedger(stores, { id: tag.id, store: current });
  } catch (error) {
    client.release(true);
    throw error;
  }
}

export class TagLedger {
  /** Not yet posted samples in time order, those that say "removed" included. */
  private readonly waiting: Frame;

  constructor(
    private readonly client: PoolClient,
    private readonly tag: number,
    readonly fresh: readonly FreshFrame[],
  ) {
    this.waiting = mergeFrames(
      fresh.map(({ frame }) => frame),
      { keepRemoved: true },
    ).frame;
  }

  /** History over [from, to) in ascending time, opening only the blocks that have to be. */
  async *pieces(from: number, to: number, reader: PieceReader): AsyncGenerator<Piece> {
    const blocks = await this.findBlocks(from, to, reader);
    const { waiting } = this;
    const isTouched = ({ first, last }: BlockPlace): boolean => {
      const at = firstAtOrAfter(waiting.times, first);
      return at < waiting.times.length && waiting.times[at]! <= last;
    };
    const opened = blocks.filter((one) => !one.run || !reader.takesWhole(one.first, one.last) || isTouched(one));
    const frames = this.open(opened.map(({ first }) => first));
    const toOpen = new Set(opened);
    let next = 0;
    let runs: RunSummary[] = [];
    for (const block of blocks) {
      const before = firstAtOrAfter(waiting.times, block.first, next);
      const closed = !toOpen.has(block);
      if (runs.length > 0 && (before > next || !closed)) {
        yield { kind: 'summaries', runs };
        runs = [];
      }
      if (before > next) yield this.freshPiece(next, before);
      next = before;
      if (closed) {
        runs.push(block.run!);
        continue;
      }
      const frame = (await frames.next()).value as Frame;
      const after = firstAtOrAfter(waiting.times, block.last + 1, next);
      yield {
        kind: 'samples',
        frame: after > next ? mergeFrames([frame, sliceFrame(waiting, next, after)]).frame : frame,
      };
      next = after;
    }
    if (runs.length > 0) yield { kind: 'summaries', runs };
    if (next < waiting.times.length) yield this.freshPiece(next, waiting.times.length);
  }

  private freshPiece(from: number, to: number): Piece {
    return { kind: 'samples', frame: withoutRemoved(sliceFrame(this.waiting, from, to)) };
  }

  /** The blocks of a window in time order and, where wanted, the neighbours outside it. */
  private async findBlocks(from: number, to: number, reader: PieceReader): Promise<BlockPlace[]> {
    const { rows } = await this.client.query<{ runs: Buffer | null; first: string[] | null; last: string[] | null }>({
      name: `find_pieces_${reader.neighbours}`,
      text: `SELECT string_agg(summary, '' ORDER BY first_time) AS runs,
          array_agg(first_time ORDER BY first_time) FILTER (WHERE summary IS NULL) AS first,
          array_agg(last_time ORDER BY first_time) FILTER (WHERE summary IS NULL) AS last
        FROM (SELECT first_time, last_time, summary FROM ledger_block
              WHERE tag_id = $1 AND first_time >= $4 AND first_time < $3 AND last_time >= $2
              ${reader.neighbours ? `UNION ALL SELECT DISTINCT ON (first_time) * FROM (${NEIGHBOURS}) AS near` : ''}) AS found`,
      values: [this.tag, from, to, monthStart(from), ...(reader.neighbours ? [reader.usesUncertain] : [])],
    });
    const { runs, first, last } = rows[0]!;
    const blocks: BlockPlace[] = (first ?? []).map((one, i) => ({
      first: Number(one),
      last: Number(last![i]),
      run: null,
    }));
    for (const run of runs ? unpackRuns(runs) : []) blocks.push({ first: run.firstTime, last: run.lastTime, run });
    return blocks.sort((a, b) => a.first - b.first);
  }

  /** Frames of blocks by their first times, in this order; the next ones are fetched while these are used. */
  private async *open(firstTimes: readonly number[]): AsyncGenerator<Frame> {
    const fetch = (at: number): Promise<Buffer[]> =>
      this.client
        .query<{ frame: Buffer }>({
          name: 'open_blocks',
          text: 'SELECT frame FROM ledger_block WHERE tag_id = $1 AND first_time = ANY($2::bigint[]) ORDER BY first_time',
          values: [this.tag, firstTimes.slice(at, at + BLOCKS_AT_ONCE)],
        })
        .then(({ rows }) => rows.map(({ frame }) => frame));
    let coming = fetch(0);
    // A reader that has enough leaves without waiting for what it had asked for ahead.
    coming.catch(() => undefined);
    for (let at = 0; at < firstTimes.length; at += BLOCKS_AT_ONCE) {
      const frames = await coming;
      if (at + BLOCKS_AT_ONCE < firstTimes.length) {
        coming = fetch(at + BLOCKS_AT_ONCE);
        coming.catch(() => undefined);
      }
      for (const frame of frames) yield decodeFrame(frame);
    }
  }

  /** Old values that not yet posted entries displace, as {@link mergeFrames} says, over [from, to). */
  async displacedByFresh(
    from: number,
    to: number,
  ): Promise<{ displaced: ReturnType<typeof mergeFrames>['displaced']; blocks: number }> {
    const { times } = this.waiting;
    if (times.length === 0) return { displaced: [], blocks: 0 };
    const { rows } = await this.client.query<{ frame: Buffer }>(
      `SELECT DISTINCT ON (b.first_time) b.frame FROM unnest($2::bigint[]) AS t(time)
         JOIN ledger_block b ON b.tag_id = $1 AND b.first_time <= t.time AND b.last_time >= t.time ORDER BY b.first_time`,
      [this.tag, Array.from(times)],
    );
    const { displaced } = mergeFrames([
      ...rows.map(({ frame }) => decodeFrame(frame)),
      ...this.fresh.map(({ frame }) => frame),
    ]);
    return { displaced: displaced.filter(({ time }) => time >= from && time < to), blocks: rows.length };
  }

  /** Ends the snapshot. @param broken the connection cannot be used any more. */
  async close(broken = false): Promise<void> {
    if (!broken) await this.client.query('COMMIT').catch(() => (broken = true));
    this.client.release(broken);
  }

  /** Rows of another table of the same store, in the same snapshot. */
  async rows<Row extends object>(text: string, values: unknown[]): Promise<Row[]> {
    return (await this.client.query<Row>(text, values)).rows;
  }
}

/**
 * Before and after a window: the nearest block, the nearest with a usable sample and, before it, the nearest with two
 * of them for sloped extrapolation. Mostly one block on each side is all of these.
 */
const USABLE = (least: number): string => `good_samples + CASE WHEN $5 THEN uncertain_samples ELSE 0 END >= ${least}`;
const nearest = (side: 'before' | 'after', condition: string): string =>
  side === 'before'
    ? `(SELECT first_time, last_time, summary FROM ledger_block
         WHERE tag_id = $1 AND first_time < $2 AND last_time < $2 AND ${condition} ORDER BY first_time DESC LIMIT 1)`
    : `(SELECT first_time, last_time, summary FROM ledger_block
         WHERE tag_id = $1 AND first_time >= $3 AND ${condition} ORDER BY first_time LIMIT 1)`;
const NEIGHBOURS = [
  nearest('before', 'true'),
  nearest('before', USABLE(1)),
  nearest('before', USABLE(2)),
  nearest('after', 'true'),
  nearest('after', USABLE(1)),
].join(' UNION ALL ');
