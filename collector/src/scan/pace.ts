/** A steady beat: calls back at whole multiples of an interval, or from now on, without drifting. */

/** Timers wake up to a millisecond late; they are set this much early and the rest is waited out. */
const EARLY = 1;

export class Pace {
  private timer: NodeJS.Timeout | null = null;
  private stopped = false;
  private due: number;

  constructor(
    private readonly interval: number,
    aligned: boolean,
    private readonly beat: (due: number) => void,
    private readonly now: () => number = () => performance.timeOrigin + performance.now(),
  ) {
    const start = this.now();
    this.due = aligned ? Math.ceil(start / interval) * interval : start;
    this.arm();
  }

  private arm(): void {
    if (this.stopped) return;
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
    this.beat(due + this.interval * behind);
    this.arm();
  }

  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
  }
}
