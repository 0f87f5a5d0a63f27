/** Tallies of the months, days or hours of a window, by UTC. Times in microseconds. */
import { sliceFrame, type Frame } from '../frame/frame.ts';
import type { Span } from '../coverage/spans.ts';
import { monthStart, nextMonth } from '../samples/blocks.ts';
import { firstAtOrAfter } from '../aggregates/series.ts';
import { DAY, HOUR } from '../time/instants.ts';
import { EMPTY_TALLY, addTallies, tallyOf, type Tally } from './tally.ts';

export const TALLY_CELLS = ['month', 'day', 'hour'] as const;
export type TallyCell = (typeof TALLY_CELLS)[number];

/** Where the cell ends that a time lies in. */
function cellEnd(time: number, by: TallyCell): number {
  if (by === 'month') return nextMonth(monthStart(time));
  const length = by === 'day' ? DAY : HOUR;
  return (Math.floor(time / length) + 1) * length;
}

/** How many cells a window has at most. */
export const cellsIn = ({ from, to }: Span, by: TallyCell): number =>
  Math.ceil(Math.max(0, to - from) / { month: 28 * DAY, day: DAY, hour: HOUR }[by]) + 2;

/** The cells of a window in their order; the first and the last end where it does. */
export function cutIntoCells({ from, to }: Span, by: TallyCell): Span[] {
  const cells: Span[] = [];
  for (let start = from; start < to;) {
    const end = Math.min(to, cellEnd(start, by));
    cells.push({ from: start, to: end });
    start = end;
  }
  return cells;
}

/** Gathers the tallies of cells from frames of one tag in ascending time. */
export class TallyBook {
  readonly tallies: Tally[];
  private at = 0;

  /** @param cells in ascending time, without overlap. */
  constructor(private readonly cells: readonly Span[]) {
    this.tallies = cells.map(() => EMPTY_TALLY);
  }

  /** What lies outside the cells does not count. @param frame behind all that were taken before. */
  take(frame: Frame): void {
    const { times } = frame;
    for (let next = 0; next < times.length && this.at < this.cells.length;) {
      const { from, to } = this.cells[this.at]!;
      const first = firstAtOrAfter(times, from, next);
      const end = firstAtOrAfter(times, to, first);
      if (end > first)
        this.tallies[this.at] = addTallies(this.tallies[this.at]!, tallyOf(sliceFrame(frame, first, end)));
      next = end;
      // The next frame may go on in the cell in which this one ends.
      if (end < times.length) this.at++;
    }
  }
}
