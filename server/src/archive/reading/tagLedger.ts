/** One tag's history as one snapshot shows it: blocks of its store's ledger, and entries not yet posted. */
import {
  NO_PARTS,
  PackedRuns,
  decodeFrame,
  firstAtOrAfter,
  mergeFrames,
  selectSamples,
  sliceFrame,
  withoutRemoved,
  type Frame,
  type RunParts,
} from '@wide-ledger/core';
import type { PoolClient } from 'pg';
import { EMBEDDED } from '../../configuration/index.ts';
import { freshPart, markOf, type FreshFrame } from '../journal/entries.ts';
import type { Stores } from '../stores/stores.ts';
import {
  listBlocks,
  nearest,
  pickRanges,
  summaryOf,
  type BlockList,
  type BlockRow,
  type FoundBlocks,
  type NearBlock,
} from './blockList.ts';
import { TagTables } from './tagTables.ts';

/** What a reader is handed, in ascending time: samples, or the summaries of whole runs of them. */
export type Piece =
  { readonly kind: 'samples'; readonly frame: Frame } | { readonly kind: 'summaries'; readonly runs: PackedRuns };

/** What a reader of pieces says of itself. */
export interface PieceReader {
  /** Whether a run may come as its summary; null: none may. */
  readonly takesWhole: ((firstTime: number, lastTime: number) => boolean) | null;
  /** What it needs of summaries. */
  readonly parts: RunParts;
  /** Whether it needs the neighbours of the window: the nearest samples, and the nearest two that can be used. */
  readonly neighbours: boolean;
  /** Whether an Uncertain sample can be used as a neighbour. */
  readonly usesUncertain: boolean;
}

/** For readers that look at every sample. */
export const EVERY_SAMPLE = { takesWhole: null, parts: NO_PARTS } as const;

/** Blocks opened in one query: enough to amortise it, few enough to keep memory flat. */
const BLOCKS_AT_ONCE = 64;

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
    // In a further store the journal is read after the snapshot was taken: it shows at least what the ledger misses.
    const { store, frames } =
      tag.store === EMBEDDED
        ? await freshPart(client, tag.id, null)
        : await freshPart(stores.home, tag.id, await markOf(client));
    const current = store ?? tag.store;
    if (current === tag.store) return new TagLedger(client, tag.id, frames);
    await client.query('ROLLBACK');
    client.release();
    // It was moved meanwhile: its history is where it is now.
    return await openTagLedger(stores, { id: tag.id, store: current });
  } catch (error) {
    client.release(true);
    throw error;
  }
}

/** One tag's history in one snapshot: blocks of the ledger, then what the journal holds beyond them. */
export class TagLedger {
  /** Not yet posted samples in time order, those that say "removed" included. */
  private readonly waiting: Frame;
  private readonly tables: TagTables;

  constructor(
    private readonly client: PoolClient,
    private readonly tag: number,
    readonly fresh: readonly FreshFrame[],
  ) {
    this.tables = new TagTables(client, [tag]);
    this.waiting = mergeFrames(
      fresh.map(({ frame }) => frame),
      { keepRemoved: true },
    ).frame;
  }

  /** History over [from, to) in ascending time, opening only the blocks that have to be. */
  async *pieces(from: number, to: number, reader: PieceReader): AsyncGenerator<Piece> {
    const blocks = await this.findBlocks(from, to, reader);
    const { firstTimes, lastTimes, runAt, runs } = blocks;
    const { waiting } = this;
    const closed = this.chooseClosed(blocks, reader);
    const frames = this.open(firstTimes.filter((_, i) => closed[i] === 0));
    let next = 0;
    for (let i = 0; i < firstTimes.length;) {
      const before = firstAtOrAfter(waiting.times, firstTimes[i]!, next);
      if (before > next) yield this.freshPiece(next, before);
      next = before;
      if (closed[i] === 1) {
        const upTo = next < waiting.times.length ? waiting.times[next]! : Infinity;
        let end = i + 1;
        while (closed[end] === 1 && runAt[end] === runAt[end - 1]! + 1 && firstTimes[end]! <= upTo) end++;
        yield { kind: 'summaries', runs: runs.slice(runAt[i]!, runAt[i]! + end - i) };
        i = end;
        continue;
      }
      const frame = (await frames.next()).value as Frame;
      const after = firstAtOrAfter(waiting.times, lastTimes[i]! + 1, next);
      yield {
        kind: 'samples',
        frame: after > next ? mergeFrames([frame, sliceFrame(waiting, next, after)]).frame : frame,
      };
      next = after;
      i++;
    }
    if (next < waiting.times.length) yield this.freshPiece(next, waiting.times.length);
  }

  /** 1 for each block that its summary can stand for: the reader takes it whole and no newer sample touches it. */
  private chooseClosed({ firstTimes, lastTimes, runAt }: BlockList, { takesWhole }: PieceReader): Uint8Array {
    const closed = new Uint8Array(firstTimes.length);
    const { times } = this.waiting;
    for (let i = 0; i < closed.length && takesWhole; i++) {
      if (runAt[i]! < 0 || !takesWhole(firstTimes[i]!, lastTimes[i]!)) continue;
      const newer = times[firstAtOrAfter(times, firstTimes[i]!)];
      if (newer === undefined || newer > lastTimes[i]!) closed[i] = 1;
    }
    return closed;
  }

  /**
   * A time in [from, to) from which on at least so many samples lie before `to`, and not many more; `from` where there
   * are fewer.
   */
  async startOfLast(count: number, from: number, to: number): Promise<number> {
    // Each waiting sample may remove one.
    const wanted = count + this.waiting.times.length;
    let behind = 0;
    for (const { tables } of (await this.tables.outwards('before', to - 1)).filter((one) => one.to > from)) {
      const blocks = await this.tables.ask<{ first_time: number; last_time: number; samples: number }>(
        tables,
        (table) => `SELECT first_time, last_time, samples FROM ${table}
          WHERE tag_id = $1 AND first_time < $3 AND last_time >= $2 ORDER BY first_time DESC`,
        [this.tag, from, to],
      );
      for (const { first_time, last_time, samples } of blocks) {
        behind += last_time < to ? samples : 0;
        if (behind >= wanted) return Math.max(from, first_time);
      }
    }
    return from;
  }

  /** The 64-bit integers at some times, where they are beyond what a double holds. @param times ascending. */
  async wholesAt(times: Float64Array): Promise<ReadonlyMap<number, bigint>> {
    const wholes = new Map<number, bigint>();
    if (times.length === 0) return wholes;
    // A block with a summary holds none.
    const reader = { takesWhole: () => true, parts: NO_PARTS, neighbours: false, usesUncertain: true };
    for await (const piece of this.pieces(times[0]!, times[times.length - 1]! + 1, reader)) {
      if (piece.kind !== 'samples' || !piece.frame.wholes) continue;
      const { times: at, wholes: given } = piece.frame;
      for (const time of times) {
        const index = firstAtOrAfter(at, time);
        if (at[index] === time) wholes.set(time, given[index]!);
      }
    }
    return wholes;
  }

  private freshPiece(from: number, to: number): Piece {
    return { kind: 'samples', frame: withoutRemoved(sliceFrame(this.waiting, from, to)) };
  }

  /** The blocks of a window in time order and, where wanted, the neighbours outside it. */
  private async findBlocks(from: number, to: number, reader: PieceReader): Promise<BlockList> {
    const { neighbours, parts, usesUncertain, takesWhole } = reader;
    // A reader that opens every block needs no summaries, only to be told where the blocks are.
    const summary = takesWhole ? 'summary' : 'NULL::bytea';
    const found: FoundBlocks = { runs: [], first: [], last: [] };
    const add = ({ runs, first, last }: BlockRow): void => {
      if (runs) found.runs.push(runs);
      found.first.push(...(first ?? []).map(Number));
      found.last.push(...(last ?? []).map(Number));
    };
    const gathered = (union: string): string => `SELECT string_agg(${summaryOf(parts)}, '' ORDER BY first_time) AS runs,
        array_agg(first_time ORDER BY first_time) FILTER (WHERE summary IS NULL) AS first,
        array_agg(last_time ORDER BY first_time) FILTER (WHERE summary IS NULL) AS last FROM (${union}) AS found`;
    const near = neighbours ? await this.findNeighbours(from, to, usesUncertain) : { before: [], after: [] };
    const addNear = (blocks: readonly NearBlock[]): void => {
      for (const { first_time, last_time, summary: full } of blocks) {
        if (full && takesWhole) found.runs.push(pickRanges(full, parts));
        else {
          found.first.push(first_time);
          found.last.push(last_time);
        }
      }
    };
    addNear(near.before);
    for (const stretch of await this.tables.stretches(from, to)) {
      const rows = await this.tables.ask<BlockRow>(
        stretch.tables,
        (table) => `SELECT first_time, last_time, ${summary} AS summary FROM ${table}
          WHERE tag_id = $1 AND first_time >= $4 AND first_time < least($3, $5::bigint) AND last_time >= $2`,
        [this.tag, from, to, stretch.from, stretch.to],
        gathered,
      );
      if (rows[0]) add(rows[0]);
    }
    addNear(near.after);
    return listBlocks(PackedRuns.unpack(Buffer.concat(found.runs), parts), found.first, found.last);
  }

  /**
   * Outside a window on each side, in ascending time: the nearest block, the nearest with a usable sample and, before it,
   * the nearest with two of them for sloped extrapolation. Mostly one block on each side is all of these.
   */
  private async findNeighbours(
    from: number,
    to: number,
    usesUncertain: boolean,
  ): Promise<{ before: NearBlock[]; after: NearBlock[] }> {
    const seek = async (side: 'before' | 'after', needs: readonly number[]): Promise<NearBlock[]> => {
      const found = new Map<number, NearBlock>();
      const open = new Set(needs);
      for (const stretch of await this.tables.outwards(side, side === 'before' ? from : to)) {
        if (open.size === 0) break;
        const rows = await this.tables.ask<NearBlock>(
          stretch.tables,
          (table) => nearest(side, table, [...open]),
          side === 'before'
            ? [this.tag, from, stretch.from, usesUncertain, stretch.to]
            : [this.tag, to, stretch.from, usesUncertain, stretch.to],
        );
        for (const row of rows) {
          found.set(row.first_time, row);
          for (const need of open) if (row.usable >= need) open.delete(need);
        }
      }
      return [...found.values()].sort((a, b) => a.first_time - b.first_time);
    };
    return { before: await seek('before', [0, 1, 2]), after: await seek('after', [0, 1]) };
  }

  /** Frames of blocks by their first times, in this order; the next ones are fetched while these are used. */
  private async *open(firstTimes: Float64Array): AsyncGenerator<Frame> {
    let at = 0;
    /** The next blocks, as many as may be asked for at once. */
    const fetch = async (): Promise<Buffer[]> => {
      const times = Array.from(firstTimes.subarray(at, at + BLOCKS_AT_ONCE));
      const stretches = times.length > 0 ? await this.tables.stretches(times[0]!, times.at(-1)! + 1) : [];
      const [first] = stretches;
      if (!first) {
        at = firstTimes.length;
        return [];
      }
      const here = times.filter((time) => time < first.to);
      at += here.length;
      const rows = await this.tables.ask<{ first_time: number; frame: Buffer }>(
        first.tables,
        (table) => `SELECT first_time, frame FROM ${table} WHERE tag_id = $1 AND first_time = ANY($2::bigint[])`,
        [this.tag, here],
        (union) => `SELECT frame FROM (${union}) AS block ORDER BY first_time`,
      );
      return rows.map(({ frame }) => frame);
    };
    let coming = fetch();
    // A reader that has enough leaves without waiting for what it had asked for ahead.
    coming.catch(() => undefined);
    for (;;) {
      const frames = await coming;
      const more = at < firstTimes.length;
      if (more) {
        coming = fetch();
        coming.catch(() => undefined);
      }
      for (const frame of frames) yield decodeFrame(frame);
      if (!more) return;
    }
  }

  /** Old values that not yet posted entries displace, as {@link mergeFrames} says, over [from, to). */
  async displacedByFresh(
    from: number,
    to: number,
  ): Promise<{ displaced: ReturnType<typeof mergeFrames>['displaced']; blocks: number }> {
    const all = this.waiting.times;
    const times = all.subarray(firstAtOrAfter(all, from), firstAtOrAfter(all, to));
    if (times.length === 0) return { displaced: [], blocks: 0 };
    // Only blocks that a waiting sample lies in: chosen here, where it takes one look at each, not by the database.
    const reader = { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true };
    const { firstTimes, lastTimes } = await this.findBlocks(times[0]!, times[times.length - 1]! + 1, reader);
    const met = firstTimes.filter((first, i) => {
      const next = times[firstAtOrAfter(times, first)];
      return next !== undefined && next <= lastTimes[i]!;
    });
    const blocks: Frame[] = [];
    for await (const frame of this.open(met)) blocks.push(frame);
    const isAsked = (time: number): boolean => time >= from && time < to;
    const fresh = this.fresh.map(({ frame }) => selectSamples(frame, (i) => isAsked(frame.times[i]!)));
    const { displaced } = mergeFrames([...blocks, ...fresh]);
    return { displaced: displaced.filter(({ time }) => isAsked(time)), blocks: blocks.length };
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
