/** What goes on in the stores by itself: moves of tags, taken up again after a restart, and retention. */
import type { Logger } from 'pino';
import type { Database } from '../database/connect.ts';
import { noteJob } from '../jobs/routes.ts';
import type { Catalogue, TagRow } from '../tags/store.ts';
import { moveTag, type Move } from './moves.ts';
import { dropMonths, keptSince } from './retention.ts';
import type { Stores } from './stores.ts';

const RETENTION_MILLISECONDS = 600_000;
const MOVE_JOB = 'move-tags';
/** After a move failed, such as when a store went away. */
const AGAIN_MILLISECONDS = 2_000;

export class StoreKeeper {
  private moving: Promise<void> | null = null;
  private stopped = false;
  private timer: NodeJS.Timeout | null = null;
  private again: NodeJS.Timeout | undefined;

  constructor(
    private readonly database: Database,
    private readonly stores: Stores,
    private readonly catalogue: Catalogue,
    private readonly log: Logger,
  ) {}

  start(): void {
    this.goOn();
    const clear = (): void => void this.keepRetention().catch((error: unknown) => this.warn(error, 'retention'));
    this.timer = setInterval(clear, RETENTION_MILLISECONDS);
    this.timer.unref();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearInterval(this.timer);
    clearTimeout(this.again);
    await this.moving;
  }

  private warn(error: unknown, what: string): void {
    this.log.warn({ error: (error as Error).message }, `${what} is waiting`);
  }

  /** Drops what every store's retention lets go. @returns how many months went. */
  async keepRetention(now = Date.now() * 1000): Promise<number> {
    let dropped = 0;
    for (const { id, retention_months } of await this.stores.list()) {
      if (retention_months !== null) dropped += await dropMonths(this.stores, id, keptSince(retention_months, now));
    }
    if (dropped > 0) await this.catalogue.refresh();
    return dropped;
  }

  /** Notes tags to be moved and begins. Tags that are there already, or on their way, are left alone. */
  async move(tags: readonly TagRow[], store: number, by: string): Promise<number> {
    const { rowCount } = await this.database.pool.query(
      `INSERT INTO tag_move (tag_id, from_store, to_store, state, started_by)
         SELECT id, store_id, $2, 'copying', $3 FROM tag WHERE id = ANY($1::int[]) AND store_id <> $2
         ON CONFLICT DO NOTHING`,
      [tags.map(({ id }) => id), store, by],
    );
    this.goOn();
    return rowCount ?? 0;
  }

  /** Whether tags are on their way. */
  get isMoving(): boolean {
    return this.moving !== null;
  }

  private goOn(): void {
    this.moving ??= this.moveAll()
      .catch(async (error: unknown) => {
        this.warn(error, 'a move');
        const sentence = `${(error as Error).message} It is tried again in a moment.`;
        await this.note('failed', 0, 0, sentence).catch(() => undefined);
        this.again = setTimeout(() => this.goOn(), AGAIN_MILLISECONDS);
        this.again.unref();
      })
      .finally(() => (this.moving = null));
  }

  private async note(
    state: 'running' | 'stopped' | 'done' | 'failed',
    done: number,
    total: number,
    sentence: string,
  ): Promise<boolean> {
    const report = { key: MOVE_JOB, title: 'Moving tags to another store', state, done, total, unit: 'tags', sentence };
    return (await noteJob(this.database, report)).stop;
  }

  private async moveAll(): Promise<void> {
    for (let done = 0; !this.stopped; done++) {
      const { rows } = await this.database.pool.query<Move & { name: string; waiting: number }>(
        `SELECT m.*, t.name, count(*) OVER () AS waiting FROM tag_move m JOIN tag t ON t.id = m.tag_id ORDER BY m.started_at, m.tag_id LIMIT 1`,
      );
      const [move] = rows;
      if (!move) {
        if (done > 0) await this.note('done', done, done, `${done} tags have moved with their history.`);
        return;
      }
      const total = done + move.waiting;
      const finished = await moveTag(this.stores, move, async (part, parts) => {
        const share = parts === 0 ? 0 : part / parts;
        const stop = await this.note('running', done + share, total, `${move.name}: ${part} of ${parts} blocks.`);
        return !stop && !this.stopped;
      });
      await this.catalogue.refresh();
      if (finished || this.stopped) continue;
      // What was not begun or not finished stays where it is.
      await this.database.pool.query("DELETE FROM tag_move WHERE state = 'copying'");
      await this.note('stopped', done, total, 'Stopped. The tags that had not moved yet stay where they are.');
      return;
    }
  }
}
