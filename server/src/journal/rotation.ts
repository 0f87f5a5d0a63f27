/** The journal's days leave by dropping their tables, once every store has posted them and a set time has passed. */
import type { Logger } from 'pino';
import { dropPartition } from '../database/partitions.ts';
import { markOf, type Mark } from '../ledger/entries.ts';
import type { Stores } from '../stores/stores.ts';

const LOOK_MILLISECONDS = 600_000;
const DAY_MILLISECONDS = 86_400_000;

/** Days of the journal (YYYYMMDD) that have tables and lie before a day, oldest first. */
async function daysBefore({ home }: Stores, day: string): Promise<string[]> {
  const { rows } = await home.query<{ day: string }>(
    `SELECT substring(relname FROM '[0-9]{8}$') AS day FROM pg_class
     WHERE relkind = 'r' AND relname ~ '^journal_entry_[0-9]{8}$' AND substring(relname FROM '[0-9]{8}$') < $1 ORDER BY 1`,
    [day],
  );
  return rows.map((row) => row.day);
}

/** Whether a day holds an entry that a store has not posted yet. */
async function isAwaited({ home }: Stores, day: string, { tx, id }: Mark): Promise<boolean> {
  const { rows } = await home.query<{ awaited: boolean }>(
    `SELECT EXISTS (SELECT FROM journal_entry_${day} WHERE (tx, id) > ($1::text::xid8, $2::bigint)) AS awaited`,
    [tx, id],
  );
  return rows[0]!.awaited;
}

/**
 * Drops the days that lie more than `keepDays` whole days before today, but none that any store still has to post.
 * @returns the days that went, as YYYYMMDD.
 * @throws Error when a store does not answer: what it has posted is not known, so everything stays.
 */
export async function rotateJournal(stores: Stores, keepDays: number, now: Date): Promise<string[]> {
  const first = new Date(now.getTime() - keepDays * DAY_MILLISECONDS).toISOString().slice(0, 10).replaceAll('-', '');
  const days = await daysBefore(stores, first);
  if (days.length === 0) return [];
  const marks = await Promise.all((await stores.list()).map(async ({ id }) => markOf(await stores.pool(id))));
  const gone: string[] = [];
  for (const day of days) {
    const awaited = await Promise.all(marks.map((mark) => isAwaited(stores, day, mark)));
    // Days go in their order, so that what is left of the journal is never broken in the middle.
    if (awaited.includes(true)) break;
    await dropPartition(stores.home, 'journal_entry', `journal_entry_${day}`);
    gone.push(day);
  }
  return gone;
}

/** Looks now and then for days that may go. */
export class JournalRotation {
  private timer: NodeJS.Timeout | null = null;
  private running: Promise<void> = Promise.resolve();

  constructor(
    private readonly stores: Stores,
    private readonly keepDays: number,
    private readonly log: Logger,
  ) {}

  start(): void {
    this.look();
    this.timer = setInterval(() => this.look(), LOOK_MILLISECONDS);
    this.timer.unref();
  }

  private look(): void {
    this.running = rotateJournal(this.stores, this.keepDays, new Date()).then(
      (days) => {
        if (days.length > 0) this.log.info({ days }, 'old days of the journal were dropped');
      },
      (error: unknown) => this.log.warn({ error: (error as Error).message }, 'the journal keeps its old days for now'),
    );
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.running;
  }
}
