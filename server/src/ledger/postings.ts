/** Posting for every store of a site, each on its own: one that is away does not hold up the others. */
import type { Logger } from 'pino';
import type { Stores } from '../stores/stores.ts';
import { Posting } from './posting.ts';

const NEW_STORES_MILLISECONDS = 2_000;

export class Postings {
  private readonly postings = new Map<number, Posting>();
  private timer: NodeJS.Timeout | null = null;
  private started = false;

  constructor(
    private readonly stores: Stores,
    private readonly log: Logger,
  ) {}

  async start(): Promise<void> {
    this.started = true;
    await this.look();
    this.timer = setInterval(() => void this.look().catch(() => undefined), NEW_STORES_MILLISECONDS);
    this.timer.unref();
  }

  /** Takes up stores that were added since. */
  private async look(): Promise<void> {
    for (const { id } of await this.stores.list()) {
      if (this.postings.has(id)) continue;
      const posting = new Posting(this.stores.home, { id, pool: () => this.stores.pool(id) }, this.log);
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
