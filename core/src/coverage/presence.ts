/**
 * What a tag's own times tell where nobody recorded what was watched: how often its values come, and where they stayed
 * away for longer than that explains. An estimate, and to be shown as one. Times in microseconds.
 */
import type { Span } from './spans.ts';

/** How the values of a tag come, by those that were looked at. */
export interface Rhythm {
  /** How many times it was estimated from. */
  readonly values: number;
  /** Half of the values follow the one before within this. */
  readonly usual: number;
  /** A silence that is longer is taken for a gap. */
  readonly longest: number;
}

/** Fewer values tell nothing of a rhythm. */
export const FEWEST_VALUES = 11;
/** One value that was left out is missed; what comes half an interval late is not. */
const LATE = 1.5;
/** The outer fence of Tukey, Exploratory Data Analysis (1977), section 2D: so many times the middle half. */
const OUTER_FENCE = 3;
/** Keepers of the longest silence may be late by so much. */
const SILENCE_LATE = 1.1;

/**
 * Estimates the rhythm from times at which values came. What one silence in twenty reaches is usual with this tag (nights,
 * week-ends), and so is what lies within the outer fence of the others, by their logarithms: a quiet tag is no gap.
 * @param times ascending, none twice. @param longestSilence after which a value is kept anyway; null where that is not said.
 * @returns null where there are too few.
 */
export function rhythmOf(times: ArrayLike<number>, longestSilence: number | null = null): Rhythm | null {
  if (times.length < FEWEST_VALUES) return null;
  const silences = new Float64Array(times.length - 1);
  for (let i = 0; i < silences.length; i++) silences[i] = times[i + 1]! - times[i]!;
  silences.sort();
  const at = (share: number): number => silences[Math.min(silences.length - 1, Math.floor(share * silences.length))]!;
  const [low, usual, high] = [at(0.25), at(0.5), at(0.75)];
  const fence = high * (high / low) ** OUTER_FENCE;
  const longest = Math.max(fence, LATE * at(0.95), SILENCE_LATE * (longestSilence ?? 0));
  return { values: times.length, usual, longest };
}

/** Where values came, and where they stayed away. */
export interface Presence {
  readonly spans: readonly Span[];
  readonly gaps: readonly Span[];
}

/**
 * Gathers presence over a window from values in ascending time, single ones and runs that are known to be without a gap.
 * Before the first value of all and after the last there is no gap: it had not begun, or nobody writes it any more.
 */
export class PresenceBook {
  private readonly spans: { from: number; to: number }[] = [];
  private readonly gaps: Span[] = [];
  private open: { from: number; to: number } | null = null;

  constructor(
    private readonly window: Span,
    private readonly longest: number,
  ) {}

  /** A value, or a run of them from the first to the last; also the nearest outside the window. */
  take(first: number, last = first): void {
    const { open } = this;
    if (open && first - open.to <= this.longest) {
      open.to = Math.max(open.to, last);
      return;
    }
    this.close();
    if (open) this.add(this.gaps, open.to, first);
    this.open = { from: first, to: last };
  }

  finish(): Presence {
    this.close();
    this.open = null;
    return { spans: this.spans, gaps: this.gaps };
  }

  private close(): void {
    if (this.open) this.add(this.spans, this.open.from, this.open.to);
  }

  private add(list: Span[], from: number, to: number): void {
    const [start, end] = [Math.max(from, this.window.from), Math.min(to, this.window.to)];
    // A single value has no length, and is there all the same.
    if (start < end || (from === to && start === end)) list.push({ from: start, to: end });
  }
}
