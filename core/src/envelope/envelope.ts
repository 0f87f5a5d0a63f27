/** The least and the greatest value per pixel column: what a trend draws, however many samples lie behind it. */
import type { RunSummary } from '../aggregates/run.ts';
import type { Columns } from '../aggregates/series.ts';
import { isBad } from '../status/codes.ts';

/**
 * Points to draw, in time order. In each column: the first, least, greatest and last value that is not Bad, each
 * once and at its own time, so that a line through them covers the same pixels as one through all samples.
 * A Bad sample is a point without a value (NaN): the line breaks there.
 */
export interface Envelope {
  readonly times: Float64Array;
  readonly values: Float64Array;
  /** How many samples lie behind the points. */
  readonly samples: number;
}

interface Point {
  readonly time: number;
  readonly value: number;
}

/** What a column has met; points are null until it has. */
interface Column {
  first: Point | null;
  least: Point | null;
  greatest: Point | null;
  last: Point | null;
  bad: Point | null;
}

const emptyColumn = (): Column => ({ first: null, least: null, greatest: null, last: null, bad: null });

/** Gathers an envelope from samples and summaries of whole runs that pass by in ascending time. */
export class EnvelopePass {
  private readonly width: number;
  private readonly points: Point[] = [];
  /** All samples, as long as they are so few that each can be drawn. */
  private all: Point[] | null = [];
  private column = emptyColumn();
  private index = NaN;
  private samples = 0;

  constructor(
    private readonly from: number,
    to: number,
    private readonly columns: number,
  ) {
    this.width = (to - from) / columns;
  }

  private indexOf(time: number): number {
    return Math.floor((time - this.from) / this.width);
  }

  /** Whether a run may pass as its summary: all of it lies in one column. */
  takesWhole(firstTime: number, lastTime: number): boolean {
    return this.indexOf(firstTime) === this.indexOf(lastTime);
  }

  take({ times, values, status }: Columns): void {
    const n = times.length;
    const bad = (i: number): boolean => isBad(status[i]!) || Number.isNaN(values[i]!);
    const point = (i: number): Point => ({ time: times[i]!, value: bad(i) ? NaN : values[i]! });
    this.samples += n;
    if (this.all && this.all.length + n > this.columns * 4) this.all = null;
    for (let i = 0; this.all && i < n; i++) this.all.push(point(i));
    for (let i = 0; i < n;) {
      this.enter(times[i]!);
      const edge = this.from + (this.index + 1) * this.width;
      let [first, least, greatest, last, broken] = [-1, -1, -1, -1, -1];
      do {
        if (bad(i)) {
          broken = i;
        } else {
          if (first < 0) first = least = greatest = i;
          if (values[i]! < values[least]!) least = i;
          if (values[i]! > values[greatest]!) greatest = i;
          last = i;
        }
        i++;
      } while (i < n && times[i]! < edge);
      if (broken >= 0) this.column.bad = point(broken);
      if (first >= 0) this.note(point(first), point(least), point(greatest), point(last));
    }
  }

  private note(first: Point, least: Point, greatest: Point, last: Point): void {
    const { column } = this;
    column.first ??= first;
    if (column.least === null || least.value < column.least.value) column.least = least;
    if (column.greatest === null || greatest.value > column.greatest.value) column.greatest = greatest;
    column.last = last;
  }

  takeSummary(run: RunSummary): void {
    this.all = null;
    this.samples += run.count;
    this.enter(run.firstTime);
    this.note(
      { time: run.firstTime, value: run.firstValue },
      { time: run.leastTime, value: run.least },
      { time: run.greatestTime, value: run.greatest },
      { time: run.lastTime, value: run.lastValue },
    );
  }

  private enter(time: number): void {
    const index = this.indexOf(time);
    if (index === this.index) return;
    this.close();
    this.index = index;
  }

  private close(): void {
    const { first, least, greatest, last, bad } = this.column;
    const met = [first, least, greatest, last, bad].filter((point) => point !== null).sort((a, b) => a.time - b.time);
    met.forEach((point, i) => {
      if (i === 0 || point.time !== met[i - 1]!.time) this.points.push(point);
    });
    this.column = emptyColumn();
  }

  finish(): Envelope {
    this.close();
    const points = this.all ?? this.points;
    return {
      times: Float64Array.from(points, ({ time }) => time),
      values: Float64Array.from(points, ({ value }) => value),
      samples: this.samples,
    };
  }
}

/** Envelope of ordered samples over [from, to) in so many columns. Short series come back as they are. */
export function envelopeOf(samples: Columns, from: number, to: number, columns: number): Envelope {
  const pass = new EnvelopePass(from, to, columns);
  pass.take(samples);
  return pass.finish();
}
