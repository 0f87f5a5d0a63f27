/** Posting for every store of a site, each on its own: one that is away does not hold up the others. */
import type { Logger } from 'pino';
import type { Stores } from '../stores/stores.ts';
import { Posting } from './posting.ts';

const NEW_STORES_MILLISECONDS = 2_000;

/** The postings of all stores, those registered later included. */
export class Postings {
  private readonly postings = new Map<number, Posting>();
  private timer: NodeJS.Timeout | null = null;
  private started = false;
  /** Number of the journal's last entry when this server started. */
  private startedAt: Promise<number> | null = null;

  constructor(
    private readonly stores: Stores,
    private readonly log: Logger,
  ) {}

  async start(): Promise<void> {
    this.started = true;
    this.timer = setInterval(() => void this.look().catch(() => undefined), NEW_STORES_MILLISECONDS);
    this.timer.unref();
    await this.look();
  }

  private lastAtStart(): Promise<number> {
    this.startedAt ??= this.stores.home.query<{ last: number }>('SELECT journal_last() AS last').then(
      ({ rows }) => rows[0]!.last,
      (error: unknown) => {
        this.startedAt = null;
        throw error;
      },
    );
    return this.startedAt;
  }

  /** Takes up stores that were added since. */
  private async look(): Promise<void> {
    const startedAt = await this.lastAtStart();
    for (const { id } of await this.stores.list()) {
      if (this.postings.has(id)) continue;
      const store = { id, pool: () => this.stores.pool(id) };
      const posting = new Posting(this.stores.home, store, startedAt, this.log);
      this.postings.set(id, posting);
      if (this.started) posting.start();
    }
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await Promise.all([...this.postings.values()].map((posting) => posting.stop()));
  }

  /** Sentence about the last failure of any store; null while all is well. */
  get failure(): string | null {
    for (const posting of this.postings.values()) if (posting.failure !== null) return posting.failure;
    return null;
  }

  /** For how long the oldest entry of any store has waited, in milliseconds. */
  get waited(): number {
    return Math.max(0, ...[...this.postings.values()].map((posting) => posting.waited));
  }

  /** Posts everything that waits, now. */
  async postAll(): Promise<void> {
    await this.look();
    for (const posting of this.postings.values()) await posting.postAll();
  }

  /** Posts one batch for each store. @returns how many entries that were. */
  async postBatch(): Promise<number> {
    await this.look();
    let entries = 0;
    for (const posting of this.postings.values()) entries += await posting.postBatch();
    return entries;
  }
}
