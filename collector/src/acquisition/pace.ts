/** A steady beat: calls back at whole multiples of an interval, or from now on, without drifting. */

/** Timers wake up to a millisecond late; they are set this much early and the rest is waited out. */
const EARLY = 1;
/** No beat is further ahead than an interval and this; milliseconds. */
const SLACK = 100;

/** Calls back at every beat of an interval, never earlier, never twice for one beat. Milliseconds. */
export class Pace {
  private timer: NodeJS.Timeout | null = null;
  private stopped = false;
  private due: number;

  /**
   * @param interval milliseconds.
   * @param beat is told when it was due, and how many beats before it were slept through.
   * @param now milliseconds since 1970, as the machine's clock has them.
   */
  constructor(
    private readonly interval: number,
    private readonly aligned: boolean,
    private readonly beat: (due: number, slept: number) => void,
    private readonly now: () => number,
  ) {
    this.due = this.first();
    this.arm();
  }

  /** The next beat from now on. Milliseconds since 1970. */
  private first(): number {
    const start = this.now();
    return this.aligned ? Math.ceil(start / this.interval) * this.interval : start;
  }

  private arm(): void {
    if (this.stopped) return;
    // A clock that was set back would let the next beat wait for hours.
    if (this.due - this.now() > this.interval + SLACK) this.due = this.first();
    const wait = this.due - this.now();
    if (wait > EARLY) {
      this.timer = setTimeout(() => this.arm(), Math.max(0, wait - EARLY));
      return;
    }
    if (wait > 0) {
      setImmediate(() => this.arm());
      return;
    }
    const due = this.due;
    // After a stall the beats that were slept through are not made up for: there is nothing to read in the past.
    const behind = Math.floor((this.now() - due) / this.interval);
    this.due = due + this.interval * (behind + 1);
    this.beat(due + this.interval * behind, behind);
    this.arm();
  }

  /** No more beats. */
  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
  }
}
