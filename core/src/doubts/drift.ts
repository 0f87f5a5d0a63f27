/** Whether a source's clock runs away from the server's, by how late its values come after their stamps. Times in microseconds. */
import type { Span } from '../coverage/spans.ts';
import type { Drifting } from './doubt.ts';

const DAY = 86_400_000_000;
/** In each of so many cells of the window the least lateness counts: whatever comes in between only adds to it. */
const CELLS = 120;
/** Fewer cells tell no slope. */
const FEWEST_CELLS = 12;
/** Less than this over the window is no drift. */
const LEAST = 500_000;
/** It has to be so many times what the cells usually lie beside the line: a clock that was set once is four times it. */
const OUT_OF_NOISE = 8;

/** Gathers one source's lateness. */
export class DriftBook {
  private readonly least = new Float64Array(CELLS).fill(Infinity);

  constructor(private readonly window: Span) {}

  /** @param stamp the newest in an entry that came as it was read. @param received when it was committed. */
  take(stamp: number, received: number): void {
    const { from, to } = this.window;
    const cell = Math.floor(((received - from) / (to - from)) * CELLS);
    if (cell >= 0 && cell < CELLS) this.least[cell] = Math.min(this.least[cell]!, received - stamp);
  }

  /** The line through the cells by Theil and Sen (Sen, Journal of the American Statistical Association 63, 1968): the median of all slopes. */
  finish(): Drifting | null {
    const { from, to } = this.window;
    const width = (to - from) / CELLS;
    const cells = [...this.least.keys()].filter((cell) => this.least[cell] !== Infinity);
    if (cells.length < FEWEST_CELLS) return null;
    const slopes: number[] = [];
    for (const [i, a] of cells.entries())
      for (const b of cells.slice(i + 1)) slopes.push((this.least[b]! - this.least[a]!) / (b - a));
    const slope = median(slopes);
    const begin = median(cells.map((cell) => this.least[cell]! - slope * cell));
    const beside = median(cells.map((cell) => Math.abs(this.least[cell]! - begin - slope * cell)));
    const [first, last] = [cells[0]!, cells.at(-1)!];
    const whole = Math.abs(slope * (last - first));
    if (whole < Math.max(LEAST, OUT_OF_NOISE * beside)) return null;
    return {
      kind: 'drifting',
      from: from + first * width,
      to: from + (last + 1) * width,
      perDay: (slope / width) * DAY,
      lateAtFirst: begin + slope * first,
      lateAtLast: begin + slope * last,
    };
  }
}

function median(values: readonly number[]): number {
  const sorted = Float64Array.from(values).sort();
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
