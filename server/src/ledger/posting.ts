/** Posting: the journal's entries, in their order, into the blocks of one store's ledger. */
import {
  cutIntoBlocks,
  decodeFrame,
  mergeFrames,
  monthStart,
  nextMonth,
  splitByTag,
  type Frame,
} from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import type { Logger } from 'pino';
import { findBlocks, keepModified, keyOf, prepareMonths, readBlocks, replaceBlocks, type Modified } from './blocks.ts';
import { markOf, nextEntries, waitingSince, type EntryRow, type Mark } from './entries.ts';
import { cutIntoSegments, placeSegments } from './plan.ts';

/** Samples posted in one transaction: enough to amortise it, few enough to keep memory flat. */
const BATCH_SAMPLES = 150_000;
/** Post at once when so many wait; otherwise when the oldest has waited this long. */
const EAGER_SAMPLES = 100_000;
const PATIENCE_MILLISECONDS = 5_000;
const IDLE_MILLISECONDS = 500;
const BUSY_MILLISECONDS = 20;

/** A store as posting needs it: its number and the way to its database. */
export interface PostedStore {
  readonly id: number;
  readonly pool: () => Promise<Pool>;
}

export class Posting {
  private stopped = false;
  private running: Promise<void> = Promise.resolve();
  private wake: (() => void) | null = null;
  /** Months whose tables are known to be there. */
  private readonly prepared = new Set<string>();
  /** Sentence about the last failure; null while all is well. */
  failure: string | null = null;

  /** @param home where the journal and the tags are; the store may be the same database or another one. */
  constructor(
    private readonly home: Pool,
    private readonly store: PostedStore,
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
        this.log.warn({ error: this.failure, store: this.store.id }, 'posting is waiting');
      }
      await new Promise<void>((resolve) => {
        this.wake = resolve;
        setTimeout(resolve, IDLE_MILLISECONDS).unref();
      });
    }
  }

  private async isDue(): Promise<boolean> {
    const { samples, milliseconds } = await waitingSince(this.home, await markOf(await this.store.pool()));
    return samples >= EAGER_SAMPLES || milliseconds >= PATIENCE_MILLISECONDS;
  }

  /** Posts everything that waits, now, or waits until whoever posts at this moment has done it. */
  async postAll(): Promise<void> {
    for (;;) {
      if ((await this.postBatch()) > 0) continue;
      const { entries } = await waitingSince(this.home, await markOf(await this.store.pool()));
      if (entries === 0) return;
      await new Promise((done) => setTimeout(done, BUSY_MILLISECONDS));
    }
  }

  /**
   * Posts one batch in one transaction: blocks, modified history and the mark of how far posting is, together.
   * @returns how many entries it took; 0 when none waits or another server is posting.
   */
  async postBatch(): Promise<number> {
    const client = await (await this.store.pool()).connect();
    let broken: Error | undefined;
    try {
      await client.query('BEGIN');
      const after = await takeMark(client, { wait: false });
      // Only now: while the mark is taken no tag changes its store, and what is read here is what will be written.
      const entries = after ? await nextEntries(this.home, after, this.store.id, BATCH_SAMPLES) : [];
      if (entries.length === 0) {
        await client.query('ROLLBACK');
        return 0;
      }
      const additions = await this.ownOf(collectByTag(entries));
      // On a connection of its own: making a month's tables locks the ledger, and this transaction is a long one.
      await this.prepare(await this.store.pool(), 'ledger_block', monthsOf(additions));
      await this.write(client, additions);
      await moveMark(client, entries[entries.length - 1]!, entries);
      await client.query('COMMIT');
      return entries.length;
    } catch (error) {
      broken = error as Error;
      // A month that was dropped meanwhile has to be made again.
      this.prepared.clear();
      await client.query('ROLLBACK').catch(() => undefined);
      throw error;
    } finally {
      client.release(broken);
    }
  }

  private readonly prepare: typeof prepareMonths = async (client, table, months) => {
    const missing = [...months].filter((month) => !this.prepared.has(`${table} ${month}`));
    if (missing.length === 0) return;
    await prepareMonths(client, table, missing);
    for (const month of missing) this.prepared.add(`${table} ${month}`);
  };

  /** What belongs to this store. */
  private async ownOf(additions: Map<number, Addition[]>): Promise<Map<number, Addition[]>> {
    const { rows } = await this.home.query<{ id: number }>({
      name: 'own_tags',
      text: 'SELECT id FROM tag WHERE store_id = $1 AND id = ANY($2::int[])',
      values: [this.store.id, [...additions.keys()]],
    });
    return new Map(rows.map(({ id }) => [id, additions.get(id)!]));
  }

  private async write(client: PoolClient, additions: Map<number, Addition[]>): Promise<void> {
    const segments = [...additions].map(([tag, added]) =>
      cutIntoSegments(
        tag,
        added.map(({ frame }) => frame),
      ),
    );
    const found = await findBlocks(client, segments.flat());
    let next = 0;
    const placements = segments.flatMap((ofTag) => placeSegments(ofTag, found.slice(next, (next += ofTag.length))));
    const gone = placements.flatMap(({ blocks }) => blocks);
    const old = await readBlocks(client, gone);
    const come: { tag: number; frame: Frame }[] = [];
    const modified: Modified[] = [];
    for (const { tag, segments: placed, blocks } of placements) {
      const inOrder = [...blocks].sort((x, y) => x.first - y.first).map((block) => old.get(keyOf(block))!);
      const parts = placed.flatMap((segment) => segment.parts);
      const merged = mergeFrames([...inOrder, ...parts.map(({ frame }) => frame)]);
      for (const frame of cutIntoBlocks(merged.frame)) come.push({ tag, frame });
      for (const one of merged.displaced) {
        const { writer, received_at: at, reason } = additions.get(tag)![parts[one.by - inOrder.length]!.from]!.entry;
        modified.push({ ...one, tag, writer, at, reason });
      }
    }
    await replaceBlocks(client, gone, come);
    await keepModified(client, modified, this.prepare);
  }
}

/**
 * Locks the mark until the end of the transaction. Meanwhile nobody else posts to this store, and no tag moves to or from it.
 * @returns null where somebody else has it and it is not to be waited for.
 */
export async function takeMark(client: PoolClient, { wait }: { wait: boolean }): Promise<Mark | null> {
  const { rows } = await client.query<Mark>(
    `SELECT tx::text AS tx, id FROM posting FOR UPDATE ${wait ? '' : 'SKIP LOCKED'}`,
  );
  return rows[0] ?? null;
}

async function moveMark(client: PoolClient, last: Mark, entries: readonly EntryRow[]): Promise<void> {
  const samples = entries.reduce((sum, entry) => sum + entry.samples, 0);
  await client.query(
    'UPDATE posting SET tx = $1::text::xid8, id = $2, posted_samples = posted_samples + $3, posted_at = now()',
    [last.tx, last.id, samples],
  );
}

/** One tag's samples of one entry. */
interface Addition {
  readonly frame: Frame;
  readonly entry: EntryRow;
}

/** By tag, in the order of their entries. */
function collectByTag(entries: readonly EntryRow[]): Map<number, Addition[]> {
  const additions = new Map<number, Addition[]>();
  for (const entry of entries) {
    if (!entry.frame) continue;
    for (const [tag, frame] of splitByTag(decodeFrame(entry.frame), entry.origin)) {
      const known = additions.get(tag);
      if (known) known.push({ frame, entry });
      else additions.set(tag, [{ frame, entry }]);
    }
  }
  return additions;
}

/** The UTC months that the samples fall into. */
function monthsOf(additions: Map<number, Addition[]>): Set<number> {
  const months = new Set<number>();
  let [start, end] = [Infinity, -Infinity];
  for (const added of additions.values()) {
    for (const { frame } of added) {
      for (const time of frame.times) {
        if (time >= start && time < end) continue;
        start = monthStart(time);
        end = nextMonth(start);
        months.add(start);
      }
    }
  }
  return months;
}
