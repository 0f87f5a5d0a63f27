/** Reading after reading, each begun when the one before it is done: as fast as a source answers. */

/** No two readings begin closer to each other than this, so that a source on this machine takes no whole core. Milliseconds. */
const CLOSEST = 5;

export class Succession {
  private stopped = false;
  private timer: NodeJS.Timeout | null = null;

  /** @param read never fails: what is wrong with a reading is its own affair. */
  constructor(private readonly read: () => Promise<void>) {
    void this.next();
  }

  private async next(): Promise<void> {
    const begun = performance.now();
    await this.read();
    if (this.stopped) return;
    this.timer = setTimeout(() => void this.next(), Math.max(0, CLOSEST - (performance.now() - begun)));
  }

  /** No more readings; one that is under way is not waited for. */
  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
  }
}
