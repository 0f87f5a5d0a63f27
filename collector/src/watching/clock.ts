/**
 * The machine's clock, to fractions of a millisecond, and its steps. Stamps follow it wherever it is set to; durations
 * are measured by the counter that nobody sets.
 */

/** The two differ by less than this while nobody sets the clock: it shows whole milliseconds. */
const TOLERANCE = 20;
/** From here on a difference is a step that people should know of. */
const STEP = 500;

export interface ClockStep {
  /** What the clock would have shown, and what it shows, in milliseconds since 1970. */
  readonly expected: number;
  readonly shown: number;
}

/** The machine's clock, watched against one that cannot be set. */
export class Clock {
  /** What has to be added to the counter for it to show the machine's time. */
  private offset: number;
  private readonly listeners = new Set<(step: ClockStep) => void>();

  /**
   * @param wall the machine's clock, in whole milliseconds since 1970.
   * @param counter milliseconds, never set.
   */
  constructor(
    private readonly wall: () => number = Date.now,
    private readonly counter: () => number = () => performance.now(),
  ) {
    this.offset = wall() - counter();
  }

  /** Milliseconds since 1970, with fractions. */
  now = (): number => {
    const expected = this.counter() + this.offset;
    const difference = this.wall() - expected;
    // The whole millisecond that is shown began up to one before.
    if (difference > TOLERANCE || difference < -TOLERANCE - 1) return this.wall();
    return expected;
  };

  /** Calls back with each step that is found, until the returned function is called. */
  onStep(listener: (step: ClockStep) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /**
   * Looks whether the clock was set since the last look; small differences are followed without a word. A machine that
   * was asleep, or a paused virtual one, looks like a clock that was set forward.
   */
  look(): void {
    const expected = this.counter() + this.offset;
    const shown = this.wall();
    const difference = shown - expected;
    if (Math.abs(difference) <= TOLERANCE) return;
    this.offset += difference;
    if (Math.abs(difference) >= STEP) for (const listener of this.listeners) listener({ expected, shown });
  }
}
