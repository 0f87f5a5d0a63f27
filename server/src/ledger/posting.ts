/** Posting: the journal's entries, in their order, into the ledger's blocks. */
import {
  cutIntoBlocks,
  decodeFrame,
  mergeFrames,
  monthStart,
  nextMonth,
  splitByTag,
  type Displaced,
  type Frame,
} from '@wide-ledger/core';
import type { PoolClient } from 'pg';
import type { Logger } from 'pino';
import type { Database } from '../database/connect.ts';
import { findBlocks, keepModified, keyOf, prepareMonths, readBlocks, replaceBlocks, type BlockKey } from './blocks.ts';
import { cutIntoSegments, placeSegments } from './plan.ts';

/** Samples posted in one transaction: enough to amortise it, few enough to keep memory flat. */
const BATCH_SAMPLES = 150_000;
/** Post at once when so many wait; otherwise when the oldest has waited this long. */
const EAGER_SAMPLES = 100_000;
const PATIENCE_MILLISECONDS = 5_000;
const IDLE_MILLISECONDS = 500;

interface EntryRow {
  tx: string;
  id: number;
  writer: string;
  origin: number;
  samples: number;
  frame: Buffer | null;
}

export class Posting {
  private stopped = false;
  private running: Promise<void> = Promise.resolve();
  private wake: (() => void) | null = null;
  /** Sentence about the last failure; null while all is well. */
  failure: string | null = null;

  constructor(
    private readonly database: Database,
    private readonly log: Logger,
  ) {}

  start(): void {
    this.running = this.loop();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.wake?.();
    await this.running;
  }

  private async loop(): Promise<void> {
    while (!this.stopped) {
      try {
        const more = (await this.isDue()) && (await this.postBatch()) > 0;
        this.failure = null;
        if (more) continue;
      } catch (error) {
        this.failure = (error as Error).message;
        this.log.warn({ error: this.failure }, 'posting is waiting');
      }
      await new Promise<void>((resolve) => {
        this.wake = resolve;
        setTimeout(resolve, IDLE_MILLISECONDS).unref();
      });
    }
  }

  private async isDue(): Promise<boolean> {
    const { rows } = await this.database.pool.query<{ samples: number; waited: number }>({
      name: 'unposted',
      text: `SELECT coalesce(sum(j.samples), 0)::bigint AS samples,
               coalesce(extract(epoch FROM clock_timestamp() - min(j.received_at)) * 1000, 0)::float8 AS waited
             FROM journal_entry j, posting p WHERE (j.tx, j.id) > (p.tx, p.id)`,
    });
    const { samples, waited } = rows[0]!;
    return samples >= EAGER_SAMPLES || waited >= PATIENCE_MILLISECONDS;
  }

  /** Posts everything that waits, now. */
  async postAll(): Promise<void> {
    while ((await this.postBatch()) > 0);
  }

  /**
   * Posts one batch in one transaction: blocks, modified history and the mark of how far posting is, together.
   * @returns how many entries it took; 0 when none waits or another server is posting.
   */
  async postBatch(): Promise<number> {
    const client = await this.database.pool.connect();
    let broken: Error | undefined;
    try {
      const entries = await this.nextEntries(client);
      if (entries.length === 0) return 0;
      const additions = collectByTag(entries);
      const months = new Set<number>();
      for (const { frames } of additions.values()) for (const frame of frames) addMonths(months, frame.times);
      await prepareMonths(client, months);

      await client.query('BEGIN');
      const { rows } = await client.query<{ tx: string; id: number }>(
        'SELECT tx, id FROM posting FOR UPDATE SKIP LOCKED',
      );
      const before = entries[0]!.after;
      if (rows.length === 0 || rows[0]!.tx !== before.tx || rows[0]!.id !== before.id) {
        await client.query('ROLLBACK');
        return 0;
      }
      await this.write(client, additions);
      const last = entries[entries.length - 1]!;
      const samples = entries.reduce((sum, entry) => sum + entry.samples, 0);
      await client.query(
        'UPDATE posting SET tx = $1, id = $2, posted_samples = posted_samples + $3, posted_at = now()',
        [last.tx, last.id, samples],
      );
      await client.query('COMMIT');
      return entries.length;
    } catch (error) {
      broken = error as Error;
      await client.query('ROLLBACK').catch(() => undefined);
      throw error;
    } finally {
      client.release(broken);
    }
  }

  /**
   * The next entries in commit order. Only transactions below the oldest still running one: above it another could
   * yet commit with a smaller number and would be passed over.
   */
  private async nextEntries(client: PoolClient): Promise<(EntryRow & { after: { tx: string; id: number } })[]> {
    const { rows } = await client.query<EntryRow & { after_tx: string; after_id: number }>({
      name: 'next_entries',
      text: `SELECT * FROM (
        SELECT j.tx, j.id, j.writer, j.origin, j.samples, j.frame, p.tx AS after_tx, p.id AS after_id,
               sum(j.samples) OVER (ORDER BY j.tx, j.id) - j.samples AS before
        FROM posting p, journal_entry j
        WHERE (j.tx, j.id) > (p.tx, p.id) AND j.tx < pg_snapshot_xmin(pg_current_snapshot())
        ORDER BY j.tx, j.id LIMIT 5000) AS next WHERE before < $1`,
      values: [BATCH_SAMPLES],
    });
    return rows.map(({ after_tx, after_id, ...row }) => ({ ...row, after: { tx: after_tx, id: after_id } }));
  }

  private async write(client: PoolClient, additions: Map<number, Addition>): Promise<void> {
    const modified: (Displaced & { tag: number; by: string })[] = [];
    const segments = [...additions].map(([tag, { frames, writer }]) => {
      const { frame, displaced } = mergeFrames(frames);
      for (const one of displaced) modified.push({ ...one, tag, by: writer });
      return cutIntoSegments(tag, frame);
    });
    const found = await findBlocks(client, segments.flat());
    let next = 0;
    const placements = segments.flatMap((ofTag) => placeSegments(ofTag, found.slice(next, (next += ofTag.length))));
    const gone: BlockKey[] = placements.flatMap(({ blocks }) => blocks);
    const old = await readBlocks(client, gone);
    const come: { tag: number; frame: Frame }[] = [];
    for (const { tag, segments: added, blocks } of placements) {
      const inOrder = [...blocks].sort((x, y) => x.first - y.first).map((block) => old.get(keyOf(block))!);
      const merged = mergeFrames([...inOrder, ...added.map(({ frame }) => frame)]);
      for (const frame of cutIntoBlocks(merged.frame)) come.push({ tag, frame });
      const by = additions.get(tag)!.writer;
      for (const one of merged.displaced) modified.push({ ...one, tag, by });
    }
    await replaceBlocks(client, gone, come);
    await keepModified(client, modified);
  }
}

/** Adds the UTC months that the times fall into. */
function addMonths(months: Set<number>, times: Float64Array): void {
  let [start, end] = [Infinity, -Infinity];
  for (const time of times) {
    if (time >= start && time < end) continue;
    start = monthStart(time);
    end = nextMonth(start);
    months.add(start);
  }
}

interface Addition {
  /** In the order of their entries. */
  readonly frames: Frame[];
  /** Of the latest entry: who displaced what is displaced. */
  writer: string;
}

function collectByTag(entries: readonly EntryRow[]): Map<number, Addition> {
  const additions = new Map<number, Addition>();
  for (const { frame: bytes, origin, writer } of entries) {
    if (!bytes) continue;
    for (const [tag, frame] of splitByTag(decodeFrame(bytes), origin)) {
      const addition = additions.get(tag) ?? { frames: [], writer };
      addition.frames.push(frame);
      addition.writer = writer;
      additions.set(tag, addition);
    }
  }
  return additions;
}
