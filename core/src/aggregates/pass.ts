/**
 * One pass over a tag's samples in ascending time, for all intervals and all aggregates of a request at once.
 *
 * Frames and, where an interval's edge does not fall into them, summaries of whole runs go in; sums per interval and
 * bounds per edge come out. Nothing of what has passed is kept but two samples, and the intervals still open.
 */
import { Status, isBad, isUncertain } from '../status/codes.ts';
import { BoundFinder, lineAt, type PassingSample } from './bounds.ts';
import { countsAsBad, type AggregateConfiguration } from './configuration.ts';
import { IntervalSums } from './intervalSums.ts';
import { endOfRun, summariseRun, type RunParts, type RunSummary } from './run.ts';
import { firstAtOrAfter, type Columns } from './series.ts';
import { spread } from './spread.ts';

/** What has passed so far. */
export interface PassedIntervals {
  readonly sumsAt: (interval: number) => IntervalSums;
  /** At each edge; one more than intervals. */
  readonly bounds: BoundFinder;
  /** At the end of the data, for the simple bound of an interval that they end in; null as long as they go on. */
  readonly endBounds: BoundFinder | null;
  /** Time of the first sample that passed; +∞ when none did. */
  readonly dataStart: number;
  /** +∞ as long as the data go on. */
  readonly dataEnd: number;
}

/** Told of each interval, in ascending time, once nothing that comes later can change it; then it is forgotten. */
export type TakeInterval = (passed: PassedIntervals, interval: number) => void;

/** What passes by once, in ascending time, laid under the intervals: each is settled as soon as its bounds are known. */
export class AggregatePass implements PassedIntervals {
  private readonly open: (IntervalSums | null)[];
  /** Intervals below this one are settled. */
  private settled = 0;
  readonly bounds: BoundFinder;
  endBounds: BoundFinder | null = null;
  /** Samples on an edge belong to the interval that begins there: in reverse to the earlier one. */
  private readonly shift: number;
  private readonly intervals: number;
  /** The last sample, the last usable one, and the usable one before that. */
  last: PassingSample | null = null;
  usable: PassingSample | null = null;
  earlierUsable: PassingSample | null = null;
  dataStart = Infinity;
  dataEnd = Infinity;
  private current = 0;
  /** Where the last question of {@link takesWhole} was answered. */
  private asked = 0;

  /**
   * @param edges of the intervals, ascending, in microseconds; each interval begins where the one before ends.
   * @param reverse the request walks backwards: the later edge belongs to an interval, the earlier one does not.
   * @param parts what the aggregates asked for need of the samples.
   */
  constructor(
    private readonly edges: Float64Array,
    reverse: boolean,
    private readonly configuration: AggregateConfiguration,
    private readonly parts: RunParts,
    private readonly takeInterval: TakeInterval,
  ) {
    this.shift = reverse ? 1 : 0;
    this.intervals = edges.length - 1;
    this.open = new Array<null>(this.intervals).fill(null);
    this.bounds = new BoundFinder(edges, configuration);
  }

  sumsAt = (interval: number): IntervalSums => {
    const known = this.open[interval];
    if (known) return known;
    return (this.open[interval] = new IntervalSums());
  };

  /** Whether nothing that comes later can change a result: the window is passed and a usable sample found behind it. */
  get complete(): boolean {
    return this.bounds.settled && this.current === this.intervals && this.pastEnd;
  }

  private get pastEnd(): boolean {
    return this.usable !== null && this.usable.time >= this.edges[this.edges.length - 1]!;
  }

  /** Whether a run of plain samples may pass as its summary: all of it lies in one interval. */
  takesWhole(firstTime: number, lastTime: number): boolean {
    // Readers ask in ascending time: the answer mostly lies where the last one did.
    const { edges, shift } = this;
    let at = this.asked;
    if (at > 0 && edges[at - 1]! + shift > firstTime) at = 0;
    while (at < edges.length && edges[at]! + shift <= firstTime) {
      if (at - this.asked > 4) {
        at = firstAtOrAfter(edges, firstTime + 1 - shift);
        break;
      }
      at++;
    }
    this.asked = at;
    return at === edges.length || lastTime < edges[at]! + shift;
  }

  /** Takes the next samples: later than all before. */
  take(columns: Columns): void {
    const { times, values, status } = columns;
    const n = times.length;
    if (n === 0 || this.complete) return;
    if (this.dataStart === Infinity) this.dataStart = times[0]!;
    let from = 0;
    if (times[0]! < this.edges[0]! + this.shift) from = this.glanceBefore(columns);
    while (from < n && !this.complete) {
      this.enter(times[from]!);
      const inside = this.current < this.intervals;
      const edge = inside ? this.edges[this.current + 1]! + this.shift : Infinity;
      const end = inside ? firstAtOrAfter(times, edge, from, n) : n;
      while (from < end && !this.complete) {
        const runEnd = inside ? endOfRun(values, status, from, end) : from;
        if (runEnd - from > 1) {
          this.takeRun(summariseRun(times, values, from, runEnd, this.parts));
          from = runEnd;
        } else {
          this.takeSample(this.sampleAt(times[from]!, values[from]!, status[from]!));
          from++;
        }
      }
    }
  }

  /** Takes a whole run for which {@link takesWhole} said yes. */
  takeSummary(run: RunSummary): void {
    if (this.complete) return;
    if (this.dataStart === Infinity) this.dataStart = run.firstTime;
    this.enter(run.firstTime);
    const outside = this.current === this.intervals || run.firstTime < this.edges[0]! + this.shift;
    if (!outside) {
      this.takeRun(run);
      return;
    }
    // Before and after the intervals only the outermost samples matter.
    this.takeSample(this.sampleAt(run.firstTime, run.firstValue, 0));
    if (run.count > 2) this.takeSample(this.sampleAt(run.penultimateTime, run.penultimateValue, 0));
    if (run.count > 1) this.takeSample(this.sampleAt(run.lastTime, run.lastValue, 0));
  }

  /**
   * No more samples. Settles what reaches to the end of the data.
   * @param watchedUntil where the tag was watched beyond its last sample (D1).
   */
  finish(watchedUntil = -Infinity): void {
    const dataEnd = Math.max(this.last?.time ?? -Infinity, watchedUntil);
    const { last, usable } = this;
    const endBounds = new BoundFinder(Float64Array.of(dataEnd), {
      ...this.configuration,
      useSlopedExtrapolation: false,
    });
    endBounds.finish(this, dataEnd);
    if (last && last.time < dataEnd) this.hold(last, null, dataEnd);
    if (usable && usable.time < dataEnd) {
      const sloped = this.configuration.useSlopedExtrapolation && usable !== last && this.earlierUsable;
      const value = sloped ? lineAt(dataEnd, sloped, usable) : usable.value;
      this.slope(usable, { time: dataEnd, value });
    }
    this.bounds.finish(this, dataEnd);
    this.endBounds = endBounds;
    this.dataEnd = dataEnd;
    this.settle(Infinity);
  }

  /** Hands on the intervals before a time. All up to a usable sample is settled: bounds, areas and durations. */
  private settle(time: number): void {
    while (this.settled < this.intervals && this.edges[this.settled + 1]! + this.shift <= time) {
      const interval = this.settled++;
      this.takeInterval(this, interval);
      this.open[interval] = null;
      this.bounds.release(interval);
    }
  }

  /** A sample without a value counts as Bad, whatever its status says. */
  private sampleAt(time: number, value: number, given: number): PassingSample {
    const status = Number.isNaN(value) && !isBad(given) ? Status.BadNoData : given;
    return { time, value, status, usable: !countsAsBad(status, this.configuration) };
  }

  /** Of the samples before the first interval only the last, and the last two usable ones, matter. */
  private glanceBefore({ times, values, status }: Columns): number {
    const end = firstAtOrAfter(times, this.edges[0]! + this.shift);
    let from = end - 1;
    for (let usable = 0; from > 0; from--) {
      if (this.sampleAt(times[from]!, values[from]!, status[from]!).usable && ++usable === 2) break;
    }
    for (let i = from; i < end; i++) this.takeSample(this.sampleAt(times[i]!, values[i]!, status[i]!));
    return end;
  }

  /** Moves on to the interval that a time belongs to. */
  private enter(time: number): void {
    while (this.current < this.intervals && time >= this.edges[this.current + 1]! + this.shift) this.current++;
  }

  private isMember(time: number): boolean {
    return this.current < this.intervals && time >= this.edges[0]! + this.shift;
  }

  private takeSample(sample: PassingSample): void {
    this.arrive(sample);
    if (this.isMember(sample.time)) {
      const sums = this.sumsAt(this.current);
      sums.addSample(sample, this.usable);
      if (sample.usable && Number.isNaN(sums.areaFrom)) startArea(sums, sample.time, sample.value);
    }
    this.remember(sample);
  }

  private takeRun(run: RunSummary): void {
    const first = this.sampleAt(run.firstTime, run.firstValue, 0);
    this.arrive(first);
    const sums = this.sumsAt(this.current);
    if (Number.isNaN(sums.areaFrom)) startArea(sums, first.time, first.value);
    sums.addRun(run, this.usable, this.configuration.stepped, this.parts);
    // Of a run, all usable, the last two samples are what has to be remembered.
    if (run.count > 1) {
      this.usable = run.count > 2 ? this.sampleAt(run.penultimateTime, run.penultimateValue, 0) : first;
    }
    this.remember(run.count > 1 ? this.sampleAt(run.lastTime, run.lastValue, 0) : first);
  }

  private remember(sample: PassingSample): void {
    this.last = sample;
    if (!sample.usable) return;
    this.earlierUsable = this.usable;
    this.usable = sample;
    this.settle(sample.time);
  }

  /** Bounds and the time between the sample before and this one. */
  private arrive(sample: PassingSample): void {
    this.bounds.arrive(sample, this);
    if (this.last) this.hold(this.last, sample, sample.time);
    if (this.usable && sample.usable) this.slope(this.usable, sample);
  }

  /** The region that starts with a sample: its quality, and what its value does until the next one. */
  private hold(from: PassingSample, to: PassingSample | null, until: number): void {
    const { stepped } = this.configuration;
    const thenBad = to !== null && !to.usable;
    const flat = stepped || to === null || thenBad;
    this.stretch(from.time, until, (index, begin, end) => {
      const sums = this.sumsAt(index);
      const length = end - begin;
      if (!from.usable) {
        sums.badTime += length;
        return;
      }
      if (isUncertain(from.status)) sums.uncertainTime += length;
      else if (thenBad) sums.goodThenBadTime += length;
      else sums.goodTime += length;
      const mean = flat ? from.value : (lineAt(begin, from, to) + lineAt(end, from, to)) / 2;
      sums.usableArea.add(mean * length);
      sums.usableLength += length;
      if (from.value === 0) sums.zeroTime += length;
      else sums.nonZeroTime += length;
    });
  }

  /** As {@link spread}; most stretches lie in the interval that was entered last, or end where it begins. */
  private stretch(from: number, to: number, visit: (interval: number, begin: number, end: number) => void): void {
    const { edges, current } = this;
    if (current > 0 && to <= edges[current]! && from >= edges[current - 1]!) visit(current - 1, from, to);
    else if (from >= edges[current]! && to <= edges[current + 1]!) visit(current, from, to);
    else spread(edges, from, to, visit);
  }

  /** The area under the line between two usable samples. */
  private slope(from: PassingSample, to: { readonly time: number; readonly value: number }): void {
    this.stretch(from.time, to.time, (index, begin, end) => {
      const sums = this.sumsAt(index);
      const [atBegin, atEnd] = [lineAt(begin, from, to), lineAt(end, from, to)];
      if (Number.isNaN(sums.areaFrom)) startArea(sums, begin, atBegin);
      sums.area.add(((atBegin + atEnd) / 2) * (end - begin));
    });
  }
}

function startArea(sums: IntervalSums, time: number, value: number): void {
  sums.areaFrom = time;
  sums.areaStartValue = value;
}
