/** Delivery: the spool's entries to the server, oldest first, one at a time, each until it is acknowledged. */
import { entryDescription } from '@wide-ledger/contract';
import { packEntry, unpackEntry } from '@wide-ledger/core';
import type { Logger } from 'pino';
import type { Spool, SpooledEntry } from '../spool/spool.ts';
import { Refused, type ServerCalls } from './serverCalls.ts';

/** Older than this at delivery, an entry has waited on the spool: its origin is "buffered". */
const LIVE_MICROSECONDS = 10_000_000;
const RETRY_MILLISECONDS = 500;

export class Delivery {
  private stopped = false;
  private running: Promise<void> = Promise.resolve();
  private wakeUp: (() => void) | null = null;

  constructor(
    private readonly spool: Spool,
    private readonly calls: ServerCalls,
    private readonly log: Logger,
    private readonly now: () => number = () => Date.now() * 1000,
  ) {}

  start(): void {
    this.running = this.loop();
  }

  /** There is something new to deliver. */
  wake(): void {
    this.wakeUp?.();
  }

  private async loop(): Promise<void> {
    let silent = false;
    while (!this.stopped) {
      const entry = await this.spool.oldest();
      if (!entry) {
        await this.pause(60_000);
        continue;
      }
      try {
        const { packed, samples } = this.stamp(entry);
        const answer = await this.calls.deliver(packed);
        if (answer.setAside > 0) this.log.warn({ setAside: answer.setAside }, 'the server set values aside');
        await this.spool.remove(entry.sequence, samples);
        if (silent) this.log.info({ waiting: this.spool.entries }, 'the server answers again');
        silent = false;
      } catch (error) {
        // A refused entry stays too: nothing that was collected is thrown away because a server did not like it.
        const level = silent ? 'debug' : 'warn';
        this.log[level](
          { error: (error as Error).message, waiting: this.spool.entries },
          error instanceof Refused ? 'the server refuses an entry' : 'the server does not answer',
        );
        silent = true;
        await this.pause(error instanceof Refused ? 10 * RETRY_MILLISECONDS : RETRY_MILLISECONDS);
      }
    }
  }

  /** The entry as it is sent: "buffered" where it has waited, with its watches. */
  private stamp({ packed }: SpooledEntry): { packed: Uint8Array; samples: number } {
    const { description, frame } = unpackEntry(packed);
    const known = entryDescription.parse(description);
    const samples = frame?.times.length ?? 0;
    const newest = Math.max(...known.watches.map((watch) => watch.to), frame ? frame.times[samples - 1]! : 0);
    if (this.now() - newest < LIVE_MICROSECONDS || known.watches.length === 0) return { packed, samples };
    return { packed: packEntry({ ...known, origin: 'buffered' }, frame), samples };
  }

  private pause(milliseconds: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, milliseconds);
      this.wakeUp = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  async stop(): Promise<void> {
    this.stopped = true;
    this.wake();
    await this.running;
  }
}
