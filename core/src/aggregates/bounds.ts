/**
 * Values at given times that are no samples themselves (OPC 10000-13, 3.1.8 interpolated and 3.1.9 simple bounding
 * values), found while the samples pass by once in ascending time.
 */
import { InfoBits, Status, isBad, isGood, withInfoBits } from '../status/codes.ts';
import { countsAsBad, type AggregateConfiguration } from './configuration.ts';

export interface Bound {
  readonly value: number;
  readonly status: number;
  /** Time of the sample whose value it is, raw or held; absent where it lies on a line. */
  readonly sampleTime?: number;
  /** Interpolated, held or extrapolated; absent where it is a raw value at its own time, or missing. */
  readonly derived?: true;
}

/**
 * Whether a calculation may use a bound. TreatUncertainAsBad speaks of raw values: a bound that is Uncertain because it
 * was derived is a bound (D16).
 */
export const isUsableBound = ({ status, derived }: Bound, configuration: AggregateConfiguration): boolean =>
  derived ? !isBad(status) : !countsAsBad(status, configuration);

/** One sample as it passes; `usable`: it does not count as Bad in the calculation. */
export interface PassingSample {
  readonly time: number;
  readonly value: number;
  readonly status: number;
  readonly usable: boolean;
}

const MISSING: Bound = { value: NaN, status: Status.BadNoData };

const interpolated = (value: number, good: boolean): Bound => ({
  value,
  status: withInfoBits(good ? Status.Good : Status.UncertainDataSubNormal, InfoBits.interpolated),
  derived: true,
});

const raw = ({ time, value, status }: PassingSample): Bound => ({ value, status, sampleTime: time });

const heldValue = ({ time, value }: PassingSample, good: boolean): Bound => ({
  ...interpolated(value, good),
  sampleTime: time,
});

/** The straight line through two samples, at a time; exact at both of them. */
export const lineAt = (
  time: number,
  from: Pick<PassingSample, 'time' | 'value'>,
  to: Pick<PassingSample, 'time' | 'value'>,
): number =>
  time === to.time ? to.value : from.value + ((time - from.time) * (to.value - from.value)) / (to.time - from.time);

/** What has passed: the last sample, the last usable one, and the usable one before that. */
export interface Passed {
  readonly last: PassingSample | null;
  readonly usable: PassingSample | null;
  readonly earlierUsable: PassingSample | null;
}

/** A time whose interpolated bound still waits for the next usable sample. */
interface OpenBound {
  readonly index: number;
  readonly before: PassingSample;
  readonly earlier: PassingSample | null;
  /** Whether `before` is Good and next to the time. */
  readonly goodBefore: boolean;
  /** Whether a sample that is not usable lies at the time or between it and the next usable one. */
  skipped: boolean;
}

/**
 * Simple bound: takes the immediate neighbours whatever their quality. A raw value at the time itself is the bound,
 * even a Bad one; a Bad or missing value before gives Bad_NoData; stepped data hold the value before with its
 * quality; sloped data that end at a Bad or missing value hold it as Uncertain_DataSubNormal (D11).
 */
function simpleBound(
  time: number,
  before: PassingSample | null,
  after: PassingSample | null,
  stepped: boolean,
  dataEnd: number,
): Bound {
  if (before?.time === time) return raw(before);
  if (after?.time === time) return raw(after);
  if (!before?.usable) return MISSING;
  const goodBefore = isGood(before.status);
  if (!after) return heldValue(before, goodBefore && time <= dataEnd);
  if (stepped) return heldValue(before, goodBefore);
  if (!after.usable) return heldValue(before, false);
  return interpolated(lineAt(time, before, after), goodBefore && isGood(after.status));
}

/**
 * Finds both bounds at each of the given times. Samples are announced by {@link arrive} before they become part of
 * what has passed; at the end {@link finish} settles what is still open.
 *
 * Interpolated bound: a usable raw value at the time itself, else between the nearest usable values on both sides,
 * however many unusable ones lie between (the status then is Uncertain_DataSubNormal). Without a usable value
 * before: Bad_NoData. After the last usable value it is extrapolated: held, or along the line of the last two with
 * UseSlopedExtrapolation; Uncertain_DataSubNormal, unless the tag was still watched at that time (D1).
 */
export class BoundFinder {
  readonly simple: Bound[] = [];
  readonly interpolated: Bound[] = [];
  private next = 0;
  private waiting: OpenBound[] = [];

  /** @param times ascending, in microseconds. */
  constructor(
    private readonly times: Float64Array,
    private readonly configuration: AggregateConfiguration,
  ) {}

  /** Whether a sample at this time has nothing left to tell. */
  get settled(): boolean {
    return this.next === this.times.length && this.waiting.length === 0;
  }

  /** Whether any of the times lies at or before this one and was not looked at yet. */
  isDue(time: number): boolean {
    return this.next < this.times.length && this.times[this.next]! <= time;
  }

  /** Forgets the bounds at a time that was asked for already. */
  release(index: number): void {
    this.simple[index] = this.interpolated[index] = MISSING;
  }

  arrive(sample: PassingSample, passed: Passed): void {
    while (this.isDue(sample.time)) this.meet(this.next++, sample, passed);
    if (this.waiting.length === 0) return;
    if (!sample.usable) for (const one of this.waiting) one.skipped = true;
    else this.resolve(sample);
  }

  private meet(index: number, sample: PassingSample, { last, usable, earlierUsable }: Passed): void {
    const time = this.times[index]!;
    this.simple[index] = simpleBound(time, last, sample, this.configuration.stepped, Infinity);
    const at = last?.time === time ? last : sample.time === time ? sample : null;
    if (at?.usable) this.interpolated[index] = raw(at);
    else if (!usable) this.interpolated[index] = MISSING;
    else {
      const near = at === null && usable === last;
      this.waiting.push({
        index,
        before: usable,
        earlier: earlierUsable,
        goodBefore: near && isGood(usable.status),
        skipped: at !== null,
      });
    }
  }

  private resolve(after: PassingSample): void {
    for (const { index, before, goodBefore, skipped } of this.waiting) {
      this.interpolated[index] = this.configuration.stepped
        ? heldValue(before, goodBefore)
        : interpolated(lineAt(this.times[index]!, before, after), goodBefore && !skipped && isGood(after.status));
    }
    this.waiting = [];
  }

  /** No more samples: what is open lies at or after the last usable one. */
  finish({ last, usable, earlierUsable }: Passed, dataEnd: number): void {
    for (const { index, before, earlier, goodBefore } of this.waiting) {
      // Samples follow, none of them usable: with stepped data they do not matter.
      this.interpolated[index] = this.extrapolate(index, before, earlier, this.configuration.stepped && goodBefore);
    }
    this.waiting = [];
    for (; this.next < this.times.length; this.next++) {
      const index = this.next;
      const time = this.times[index]!;
      this.simple[index] = simpleBound(time, last, null, this.configuration.stepped, dataEnd);
      if (last?.time === time && last.usable) this.interpolated[index] = raw(last);
      else if (!usable) this.interpolated[index] = MISSING;
      else if (time <= dataEnd && last!.time !== time) {
        this.interpolated[index] = heldValue(usable, usable === last && isGood(usable.status));
      } else this.interpolated[index] = this.extrapolate(index, usable, earlierUsable, false);
    }
  }

  private extrapolate(index: number, before: PassingSample, earlier: PassingSample | null, good: boolean): Bound {
    const { useSlopedExtrapolation, stepped } = this.configuration;
    if (!useSlopedExtrapolation || stepped || !earlier) return heldValue(before, good);
    return interpolated(lineAt(this.times[index]!, earlier, before), false);
  }
}
