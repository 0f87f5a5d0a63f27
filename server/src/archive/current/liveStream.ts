/** One follower of current values, however slowly it takes them. */
import type { LiveSample } from '@wide-ledger/contract';
import type { Response } from 'express';

const KEEP_ALIVE_MILLISECONDS = 15_000;
/** Whoever takes nothing for so long is let go; browsers come back by themselves. */
const PATIENCE_MILLISECONDS = 30_000;

/**
 * Server-sent events of one response. While the follower does not keep up nothing piles up: what changed meanwhile is
 * remembered by tag, and each is told as it is then.
 */
export class LiveStream {
  private readonly waiting = new Set<number>();
  private blockedSince: number | null = null;
  private readonly alive: NodeJS.Timeout;

  /** @param latest what is to be told of a tag now. */
  constructor(
    private readonly response: Response,
    private readonly latest: (tag: number) => LiveSample | null,
  ) {
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      'x-accel-buffering': 'no',
    });
    this.write('retry: 1000\n\n');
    this.alive = setInterval(() => this.beat(), KEEP_ALIVE_MILLISECONDS);
    response.once('close', () => clearInterval(this.alive));
    response.on('drain', () => {
      this.blockedSince = null;
      const tags = [...this.waiting];
      this.waiting.clear();
      this.send(tags);
    });
  }

  /** Tells the latest of these tags, or remembers to. */
  send(tags: readonly number[]): void {
    if (this.blockedSince !== null) {
      for (const tag of tags) this.waiting.add(tag);
      return;
    }
    const samples = tags.map(this.latest).filter((sample) => sample !== null);
    if (samples.length > 0) this.write(`data: ${JSON.stringify(samples)}\n\n`);
  }

  private beat(): void {
    if (this.blockedSince === null) this.write(': still here\n\n');
    else if (performance.now() - this.blockedSince > PATIENCE_MILLISECONDS) this.response.destroy();
  }

  private write(text: string): void {
    if (!this.response.write(text)) this.blockedSince ??= performance.now();
  }
}
