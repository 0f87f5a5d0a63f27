/** How a tag moves: when its value was another than before, and for how long it rested. Times in microseconds. */
import { RhythmBook, type Rhythm } from '../coverage/rhythm.ts';
import type { Span } from '../coverage/spans.ts';
import type { Frame } from '../frame/frame.ts';
import { isBad } from '../status/codes.ts';

/** A stretch through which a value stood. */
export interface Rest extends Span {
  readonly value: number;
}

/** What was seen of a tag over a window. */
export interface Motion {
  /** How often it moved, in cells of one length that make up the window. */
  readonly moves: Uint32Array;
  readonly total: number;
  /** How often it usually moves; null where it moved too seldom to tell. */
  readonly rhythm: Rhythm | null;
  /** Its longest rests, the longest first. */
  readonly rests: readonly Rest[];
}

/** So many rests are remembered: the longest. */
const MOST_RESTS = 24;

/** Gathers a tag's motion from its samples in ascending time. */
export class MotionBook {
  private readonly moves: Uint32Array;
  private readonly book = new RhythmBook();
  private readonly rests: Rest[] = [];
  private total = 0;
  /** The value that stands, since when, and its last sample. */
  private value = NaN;
  private since = 0;
  private last = 0;

  /**
   * @param cells how many the window is cut into.
   * @param holds whether a value holds until the next one is told, or only up to the last sample that says so.
   */
  constructor(
    private readonly window: Span,
    cells: number,
    private readonly holds: boolean,
  ) {
    this.moves = new Uint32Array(cells);
  }

  /** Samples that follow those before. A Bad one ends what was known. */
  take({ times, values, status }: Pick<Frame, 'times' | 'values' | 'status'>): void {
    for (let i = 0; i < times.length; i++) {
      const time = times[i]!;
      const value = values[i]!;
      if (time >= this.window.to) return;
      if (isBad(status[i]!) || !Number.isFinite(value)) {
        this.close(time);
        this.value = NaN;
      } else if (value === this.value) this.last = time;
      else this.move(time, value);
    }
  }

  /** @param knownUntil up to when the last value was seen to hold. */
  finish(knownUntil: number): Motion {
    this.close(Math.min(knownUntil, this.window.to));
    const rests = this.rests.sort((a, b) => b.to - b.from - (a.to - a.from)).slice(0, MOST_RESTS);
    return { moves: this.moves, total: this.total, rhythm: this.book.rhythm(), rests };
  }

  private move(time: number, value: number): void {
    if (!Number.isNaN(this.value)) {
      this.book.take(time - this.since);
      this.close(time);
      if (time >= this.window.from) {
        const { from, to } = this.window;
        this.moves[Math.floor(((time - from) / (to - from)) * this.moves.length)]!++;
        this.total++;
      }
    }
    this.value = value;
    this.since = time;
    this.last = time;
  }

  /** The value that stands does so up to a moment, and no longer. */
  private close(time: number): void {
    if (Number.isNaN(this.value)) return;
    const from = Math.max(this.since, this.window.from);
    const to = this.holds ? Math.max(time, this.last) : this.last;
    if (to > from) this.keep({ from, to, value: this.value });
  }

  private keep(rest: Rest): void {
    const { rests } = this;
    rests.push(rest);
    if (rests.length < 4 * MOST_RESTS) return;
    rests.sort((a, b) => b.to - b.from - (a.to - a.from));
    rests.length = MOST_RESTS;
  }
}
