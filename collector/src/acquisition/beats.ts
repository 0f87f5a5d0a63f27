/** What one group of tags was really read at: from beat to beat, and where beats were missed. Pure. */

/** Lapses shorter than this are counted as missed reads, not as time in which nobody watched. Microseconds. */
const SHORTEST_HOLE = 1_000_000;
/** A read that starts later than this after its beat has missed it. Microseconds. */
const LATEST = 1_000_000;

export interface Lapse {
  readonly from: number;
  readonly to: number;
}

/** Whether a read that was due at a time and started at another still counts as the one that was due. */
export const isOnBeat = (due: number, started: number): boolean => started - due <= LATEST;

/** The beats at which a group of tags was read, and the holes between them. Microseconds since 1970. */
export class Beats {
  private last: number | null = null;

  /** @param interval microseconds from beat to beat. */
  constructor(private readonly interval: number) {}

  /**
   * Notes a read.
   * @param at the beat that it was due at, or when it started, where that was too late to be the same.
   * @returns the hole before it, where beats were missed.
   */
  note(at: number): Lapse | null {
    const { last } = this;
    this.last = at;
    if (last === null || at <= last) return null;
    const missed = at - last >= 1.5 * this.interval && at - last > SHORTEST_HOLE;
    return missed ? { from: last, to: at } : null;
  }

  /** What comes next is the first beat: watching began anew. */
  forget(): void {
    this.last = null;
  }
}
