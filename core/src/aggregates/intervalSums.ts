/** What gathers for one interval while the samples pass by: everything that any aggregate of it needs. */
import { isBad, isGood, isUncertain, withoutInfoBits } from '../status/codes.ts';
import type { Bound, PassingSample } from './bounds.ts';
import { PairSum, exactProduct } from './exact.ts';
import type { RunParts, RunSummary } from './run.ts';

/** A least or greatest value; of several equal ones the oldest. */
export interface Extreme {
  readonly value: number;
  readonly time: number;
  readonly many: boolean;
}

/** The more extreme of two, with `direction` 1 for the least and −1 for the greatest. */
export function moreExtreme(a: Extreme | null, b: Extreme | null, direction: 1 | -1): Extreme | null {
  if (a === null || b === null) return a ?? b;
  const order = direction * (a.value - b.value);
  if (order !== 0) return order < 0 ? a : b;
  return { value: a.value, time: Math.min(a.time, b.time), many: true };
}

const severityRank = (status: number): number => (isBad(status) ? 2 : isUncertain(status) ? 1 : 0);

/**
 * The sums of one interval. *Members* are the samples that belong to it; areas and durations run over its stretch of
 * time, whatever sample they start at.
 */
export class IntervalSums {
  good = 0;
  uncertain = 0;
  bad = 0;
  first: Bound & { readonly time: number } = NO_SAMPLE;
  last: Bound & { readonly time: number } = NO_SAMPLE;
  firstGood = NaN;
  lastGood = NaN;
  readonly sum = new PairSum();
  readonly squares = new PairSum();
  least: Extreme | null = null;
  greatest: Extreme | null = null;
  leastUncertain: Extreme | null = null;
  greatestUncertain: Extreme | null = null;
  /** Changes between usable members, and from the usable sample before the first of them. */
  transitions = 0;
  worstRank = -1;
  worstCode = 0;
  worstDiffers = false;

  /** Under straight lines between usable samples, over the time from {@link areaFrom}; value × microseconds. */
  readonly area = new PairSum();
  areaFrom = NaN;
  /** Value and time where the area starts, for an interval of no length. */
  areaStartValue = NaN;
  /** Over the time that starts at a usable sample, held or sloped as the tag's values are. */
  readonly usableArea = new PairSum();
  usableLength = 0;
  zeroTime = 0;
  nonZeroTime = 0;
  /** Microseconds by the quality of the sample they start at; Good ones that end at a Bad sample apart (D3). */
  goodTime = 0;
  goodThenBadTime = 0;
  uncertainTime = 0;
  badTime = 0;

  get members(): number {
    return this.good + this.uncertain + this.bad;
  }

  /** Takes a member. `before`: the usable sample before it, wherever it lies. */
  addSample(sample: PassingSample, before: PassingSample | null): void {
    const { time, value, status, usable } = sample;
    if (this.members === 0) this.first = sample;
    this.last = sample;
    this.noteQuality(status);
    if (isGood(status)) {
      if (this.good === 0) this.firstGood = value;
      this.lastGood = value;
      this.good++;
      this.sum.add(value);
      this.squares.addPair(...exactProduct(value, value));
      const here = { value, time, many: false };
      this.least = moreExtreme(this.least, here, 1);
      this.greatest = moreExtreme(this.greatest, here, -1);
    } else if (isBad(status)) {
      this.bad++;
    } else {
      this.uncertain++;
      const here = { value, time, many: false };
      this.leastUncertain = moreExtreme(this.leastUncertain, here, 1);
      this.greatestUncertain = moreExtreme(this.greatestUncertain, here, -1);
    }
    if (usable && before?.value !== value) this.transitions++;
  }

  /** Takes a run of plain members whole. `before` as in {@link addSample}. @param parts what the summary holds. */
  addRun(run: RunSummary, before: PassingSample | null, stepped: boolean, parts: RunParts): void {
    if (this.members === 0) this.first = { time: run.firstTime, value: run.firstValue, status: 0 };
    this.last = { time: run.lastTime, value: run.lastValue, status: 0 };
    if (this.worstRank <= 0) this.noteQuality(0);
    if (this.good === 0) this.firstGood = run.firstValue;
    this.lastGood = run.lastValue;
    this.good += run.count;
    this.sum.addPair(run.sum, run.sumRest);
    this.squares.addPair(run.squares, run.squaresRest);
    if (parts.extremes) {
      this.least = moreExtreme(this.least, { value: run.least, time: run.leastTime, many: run.leastMany }, 1);
      const greatest = { value: run.greatest, time: run.greatestTime, many: run.greatestMany };
      this.greatest = moreExtreme(this.greatest, greatest, -1);
    }
    this.transitions += run.transitions;
    if (before?.value !== run.firstValue) this.transitions++;

    const length = run.lastTime - run.firstTime;
    this.area.addPair(run.slopedArea, run.slopedAreaRest);
    if (stepped) this.usableArea.addPair(run.heldArea, run.heldAreaRest);
    else this.usableArea.addPair(run.slopedArea, run.slopedAreaRest);
    this.usableLength += length;
    this.zeroTime += run.zeroTime;
    this.nonZeroTime += length - run.zeroTime;
    this.goodTime += length;
  }

  private noteQuality(status: number): void {
    const rank = severityRank(status);
    const code = withoutInfoBits(status);
    if (rank > this.worstRank) {
      this.worstRank = rank;
      this.worstCode = code;
      this.worstDiffers = false;
    } else if (rank === this.worstRank && code !== this.worstCode) {
      this.worstDiffers = true;
    }
  }
}

const NO_SAMPLE = { time: NaN, value: NaN, status: 0 };
