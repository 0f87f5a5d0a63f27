/** Posting: the journal's entries, in their order, into the blocks of one store's ledger. */
import {
  FrameError,
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
import { backlogAfter, markOf, nextEntries, type EntryRow } from '../journal/entries.ts';
import { findBlocks, keepModified, keyOf, readBlocks, replaceBlocks, type Modified } from './blocks.ts';
import { takeMark } from './mark.ts';
import { changeOf, countMonths, isCounted, noteTallies, type TallyChange } from './monthTallies.ts';
import { LedgerParts, type TagMonth } from './parts.ts';
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

/** A failure that the same entries may not meet again: of the connection, of resources, of a table dropped meanwhile. */
const PASSING = /^(08|40|42|53|55|57|58|XX)|^E[A-Z]+$/;
const isPassing = (error: unknown): boolean => {
  const { code } = error as { code?: unknown };
  if (typeof code === 'string') return PASSING.test(code);
  // What core refuses to decode, merge or encode it refuses for ever; what else has no code is a lost connection.
  return !(
    error instanceof RangeError ||
    error instanceof TypeError ||
    error instanceof SyntaxError ||
    error instanceof FrameError
  );
};

/** One store's posting: runs by itself between {@link Posting.start} and {@link Posting.stop}, or batch by batch. */
export class Posting {
  private stopped = false;
  private running: Promise<void> = Promise.resolve();
  private wake: (() => void) | null = null;
  private readonly parts: LedgerParts;
  /** Samples tried in one batch: fewer after entries that could not be posted, until the one is found. */
  private most = BATCH_SAMPLES;
  /** Sentence about the last failure; null while all is well. */
  failure: string | null = null;
  /** For how long the oldest entry has waited, in milliseconds, at the last look. */
  waited = 0;

  /**
   * @param home where the journal and the tags are; the store may be the same database or another one.
   * @param startedAt number of the last entry when this server started.
   */
  constructor(
    private readonly home: Pool,
    private readonly store: PostedStore,
    private readonly startedAt: number,
    private readonly log: Logger,
  ) {
    this.parts = new LedgerParts(store.pool);
  }

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
        const more = (await this.isDue()) ? (await this.postBatch()) > 0 : (await this.count()) > 0;
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

  /** Counts months whose tallies are not known yet. @returns how many. */
  private async count(): Promise<number> {
    if (await isCounted(await this.store.pool())) return 0;
    return this.withMark((client) => countMonths(client, this.home, this.store.id));
  }

  private async isDue(): Promise<boolean> {
    const mark = await markOf(await this.store.pool());
    const { samples, milliseconds, last } = await backlogAfter(this.home, mark);
    this.waited = milliseconds;
    if (mark > last) await this.rejoin(mark);
    return samples >= EAGER_SAMPLES || milliseconds >= PATIENCE_MILLISECONDS;
  }

  /**
   * The store has posted entries that the journal does not know: the site's database was restored from a backup that is
   * older than the store. New entries are numbered behind them, and what came since this server started is posted
   * again, which changes nothing where it was posted before.
   */
  private async rejoin(mark: number): Promise<void> {
    await this.home.query("SELECT setval('journal_entry_id', greatest($1::bigint, journal_last(), 1))", [mark]);
    await (await this.store.pool()).query('UPDATE posting SET entry = $1 WHERE entry = $2', [this.startedAt, mark]);
    this.log.warn({ store: this.store.id, mark, startedAt: this.startedAt }, 'the journal is older than the store');
  }

  /** Posts everything that waits, now, or waits until whoever posts at this moment has done it. */
  async postAll(): Promise<void> {
    for (;;) {
      if ((await this.postBatch()) > 0) continue;
      const { entries } = await backlogAfter(this.home, await markOf(await this.store.pool()));
      if (entries === 0) return;
      await new Promise((done) => setTimeout(done, BUSY_MILLISECONDS));
    }
  }

  /**
   * Posts one batch in one transaction: blocks, modified history and the mark of how far posting is, together. Entries
   * that cannot be posted are tried in smaller batches; one that cannot be posted by itself is put into quarantine.
   * @returns how many entries were dealt with; 0 when none waits or another server is posting.
   */
  async postBatch(): Promise<number> {
    try {
      const posted = await this.attempt();
      this.most = Math.min(BATCH_SAMPLES, this.most * 4);
      return posted;
    } catch (error) {
      if (isPassing(error)) throw error;
      if (this.most > 1) {
        this.most = Math.max(1, Math.floor(this.most / 16));
        return this.postBatch();
      }
      return this.quarantine(error as Error);
    }
  }

  private async attempt(): Promise<number> {
    return this.withMark(async (client, after) => {
      // Only now: while the mark is taken no tag changes its store, and what is read here is what will be written.
      const entries = await nextEntries(this.home, after, this.store.id, this.most);
      if (entries.length === 0) return 0;
      const additions = await this.ownOf(collectByTag(entries));
      await this.parts.settle(client, tagMonthsOf(additions), { gather: true });
      await this.write(client, additions);
      await moveMark(client, entries[entries.length - 1]!.id, entries);
      return entries.length;
    });
  }

  /** Work in a transaction that holds the mark; 0 where another server holds it. */
  private async withMark(work: (client: PoolClient, after: number) => Promise<number>): Promise<number> {
    const client = await (await this.store.pool()).connect();
    let broken: Error | undefined;
    try {
      await client.query('BEGIN');
      const mark = await takeMark(client, { wait: false });
      if (mark) this.parts.trustUntil(mark.layout);
      const dealt = mark ? await work(client, mark.entry) : 0;
      await client.query(dealt > 0 ? 'COMMIT' : 'ROLLBACK');
      return dealt;
    } catch (error) {
      this.parts.forget();
      // A connection that cannot even roll back is no use any more.
      await client.query('ROLLBACK').catch((lost: Error) => (broken = lost));
      throw error;
    } finally {
      client.release(broken);
    }
  }

  /** Keeps the next entry whole, outside the ledger, with what was wrong with it; posting goes on behind it. */
  private async quarantine(failure: Error): Promise<number> {
    return this.withMark(async (client, after) => {
      const entries = await nextEntries(this.home, after, this.store.id, 1);
      const culprit = entries.find(({ frame }) => frame !== null);
      const last = entries[entries.length - 1];
      if (!last) return 0;
      if (culprit) {
        await this.home.query(
          `INSERT INTO quarantine (store_id, entry, writer, origin, received_at, samples, first_time, last_time, tags, frame, reason, failure)
             SELECT $1, id, writer, origin, received_at, samples, first_time, last_time, tags, frame, reason, $3
             FROM journal_entry WHERE id = $2 ON CONFLICT DO NOTHING`,
          [this.store.id, culprit.id, failure.message],
        );
        this.log.error(
          { store: this.store.id, entry: culprit.id, error: failure.message },
          'an entry is in quarantine',
        );
      }
      await moveMark(
        client,
        last.id,
        entries.filter((entry) => entry !== culprit),
      );
      return entries.length;
    });
  }

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
    const found = await findBlocks(client, this.parts, segments.flat());
    let next = 0;
    const placements = segments.flatMap((ofTag) => placeSegments(ofTag, found.slice(next, (next += ofTag.length))));
    const gone = placements.flatMap(({ blocks }) => blocks);
    const old = await readBlocks(client, this.parts, gone);
    const come: { tag: number; frame: Frame }[] = [];
    const modified: Modified[] = [];
    const tallies: TallyChange[] = [];
    for (const { tag, segments: placed, blocks } of placements) {
      const inOrder = [...blocks].sort((x, y) => x.first - y.first).map((block) => old.get(keyOf(block))!);
      const parts = placed.flatMap((segment) => segment.parts);
      const merged = mergeFrames([...inOrder, ...parts.map(({ frame }) => frame)]);
      for (const frame of cutIntoBlocks(merged.frame)) come.push({ tag, frame });
      const added = parts.map(({ frame }) => frame);
      tallies.push({ tag, month: monthStart(placed[0]!.first), change: changeOf(inOrder, added, merged.frame) });
      for (const one of merged.displaced) {
        const { writer, received_at: at, reason } = additions.get(tag)![parts[one.by - inOrder.length]!.from]!.entry;
        modified.push({ ...one, tag, writer, at, reason });
      }
    }
    await replaceBlocks(client, this.parts, gone, come);
    await noteTallies(client, tallies);
    await keepModified(client, modified);
  }
}

async function moveMark(client: PoolClient, last: number, entries: readonly EntryRow[]): Promise<void> {
  const samples = entries.reduce((sum, entry) => sum + entry.samples, 0);
  await client.query('UPDATE posting SET entry = $1, posted_samples = posted_samples + $2, posted_at = now()', [
    last,
    samples,
  ]);
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

/** The UTC months that the samples of each tag fall into. */
function tagMonthsOf(additions: Map<number, Addition[]>): TagMonth[] {
  return [...additions].flatMap(([tag, added]) => {
    const months = new Map<number, number>();
    for (const { frame } of added) {
      const { times } = frame;
      // A run within one month is counted at once: mostly that is all of it.
      for (let i = 0; i < times.length;) {
        const start = monthStart(times[i]!);
        const end = nextMonth(start);
        const from = i;
        while (i < times.length && times[i]! >= start && times[i]! < end) i++;
        months.set(start, (months.get(start) ?? 0) + i - from);
      }
    }
    return [...months].map(([month, samples]) => ({ tag, month, samples }));
  });
}
