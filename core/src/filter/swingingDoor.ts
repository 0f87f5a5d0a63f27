/**
 * The swinging door (Bristol, ISA 1990): of samples that lie along lines only the ends of the lines are kept. The usual
 * form looks whether the two doors still overlap, and promises nothing: a line between two kept samples may pass a
 * dropped one at nearly twice the width (with a width of 2: −4, 0, −2, 4 at 0, 1, 2, 3 keeps the ends alone, and their
 * line passes the third at 3.33). Here the line to the newest sample itself has to pass through all doors, hence:
 * **every dropped sample lies within the width of the line between the kept samples around it.**
 */

/** What is filtered. Times only have to be numbers that grow, in whatever unit. */
export interface DoorSample {
  readonly time: number;
  readonly value: number;
}

/** One series on its way through the door; samples come in the order of their times. */
export class SwingingDoor<Sample extends DoorSample> {
  private from: Sample | null = null;
  private newest: Sample | null = null;
  /** Slopes of lines from the last kept sample that pass all those since within the width. */
  private least = -Infinity;
  private most = Infinity;

  /** @param width of the promise, in the unit of the values; zero keeps what lies off a straight line by anything. */
  constructor(private readonly width: number) {}

  /** The newest sample, while it is held back. */
  get held(): Sample | null {
    return this.newest;
  }

  /**
   * Takes the next sample. @returns the sample that has to be kept because of it: the one before; null: none yet.
   * The first of a series is kept at once. A time that does not grow is kept as it is.
   */
  offer(sample: Sample): Sample | null {
    const { from, newest } = this;
    if (from === null) {
      this.begin(sample);
      return sample;
    }
    if (sample.time <= (newest ?? from).time) return sample;
    const slope = (sample.value - from.value) / (sample.time - from.time);
    if (newest === null || (slope >= this.least && slope <= this.most)) {
      this.narrow(from, sample);
      return null;
    }
    this.begin(newest);
    this.narrow(newest, sample);
    return newest;
  }

  /** The series is interrupted, or ends. @returns the sample that was held back; null: none */
  end(): Sample | null {
    const { newest } = this;
    this.from = this.newest = null;
    return newest;
  }

  /** Goes on from a sample that is kept for another reason. */
  begin(sample: Sample): void {
    this.from = sample;
    this.newest = null;
    this.least = -Infinity;
    this.most = Infinity;
  }

  private narrow(from: Sample, sample: Sample): void {
    const passed = sample.time - from.time;
    this.least = Math.max(this.least, (sample.value - this.width - from.value) / passed);
    this.most = Math.min(this.most, (sample.value + this.width - from.value) / passed);
    this.newest = sample;
  }
}
