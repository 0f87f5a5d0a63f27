/**
 * What a tag's own times tell where nobody recorded what was watched: how often its values come, and where they stayed
 * away for longer than that explains. An estimate, and to be shown as one. Times in microseconds.
 */
import type { Span } from './spans.ts';

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
