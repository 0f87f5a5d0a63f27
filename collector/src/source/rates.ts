/** Values per second that were read and kept, smoothed over the last reports. */

const SHORTEST_SECONDS = 0.9;

export class Rates {
  private counted = { read: 0, kept: 0 };
  private smooth = { at: performance.now(), read: 0, kept: 0 };

  noteRead(): void {
    this.counted.read++;
  }

  noteKept(): void {
    this.counted.kept++;
  }

  /** The rates by now, to a tenth. */
  get perSecond(): { read: number; kept: number } {
    const now = performance.now();
    const seconds = (now - this.smooth.at) / 1000;
    if (seconds >= SHORTEST_SECONDS) {
      const next = (old: number, count: number): number =>
        old === 0 ? count / seconds : 0.6 * old + (0.4 * count) / seconds;
      const { read, kept } = this.counted;
      this.smooth = { at: now, read: next(this.smooth.read, read), kept: next(this.smooth.kept, kept) };
      this.counted = { read: 0, kept: 0 };
    }
    const round = (value: number): number => Math.round(value * 10) / 10;
    return { read: round(this.smooth.read), kept: round(this.smooth.kept) };
  }
}
