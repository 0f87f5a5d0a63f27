/** The newest samples of a tag, in memory: what comes in order is computed from these alone. */
import { emptyFrame, firstAtOrAfter, mergeFrames, sliceFrame, type Frame } from '@wide-ledger/core';

/** Samples before a moment that a formula may look at. */
export const LOOKS_BACK = 2;

/** So far back, from the newest one, samples stay here: late ones of a plant come within it. Microseconds. */
const STAYS = 120_000_000;
/** Shortened only when it has grown by so many: each time costs a copy. */
const SLACK = 64;

export class Recent {
  private frame: Frame = emptyFrame(0, { origins: true });

  /** @param from every sample at or after this is here; −∞: all that there are. Microseconds. */
  constructor(private from: number) {}

  /** When the newest one was; −∞ where there is none. */
  get head(): number {
    return this.frame.times.at(-1) ?? -Infinity;
  }

  get samples(): Frame {
    return this.frame;
  }

  /** Takes in what came; what lies before all that is here has no place. @param added one tag's, with origins */
  absorb(added: Frame): void {
    const { times } = added;
    const isOld = times.some((time) => time < this.from);
    const mine = isOld ? pick(added, (i) => times[i]! >= this.from) : added;
    if (mine.times.length === 0) return;
    this.frame = mergeFrames([this.frame, mine]).frame;
    this.shorten();
  }

  /** Something before a moment is not here. Microseconds. */
  forgetBefore(time: number): void {
    this.from = Math.max(this.from, time);
  }

  /** Whether all that a formula may look at in a window is here. @param from its beginning, microseconds */
  covers(from: number): boolean {
    if (this.from === -Infinity) return true;
    return this.from <= from && firstAtOrAfter(this.frame.times, from) >= LOOKS_BACK;
  }

  /** Whether all samples of a window are here. */
  holds(from: number): boolean {
    return this.from <= from;
  }

  /** The samples in [from, to). */
  between(from: number, to: number): Frame {
    const { times } = this.frame;
    return sliceFrame(this.frame, firstAtOrAfter(times, from), firstAtOrAfter(times, to));
  }

  /**
   * A window of the archive, with what is here in the place of what the archive shows of the same time.
   * @param found in time order, with origins. @param to the window's end. @param from before this nothing is added
   */
  completing(found: Frame, to: number, from = -Infinity): Frame {
    const before = sliceFrame(found, 0, firstAtOrAfter(found.times, this.from));
    return mergeFrames([before, this.between(Math.max(from, this.from), to)]).frame;
  }

  private shorten(): void {
    const { times } = this.frame;
    const first = Math.max(0, firstAtOrAfter(times, this.head - STAYS) - LOOKS_BACK);
    if (first <= SLACK) return;
    this.from = times[first]!;
    this.frame = copyFrom(this.frame, first);
  }
}

/** Not a view: what it was cut from is let go. */
const copyFrom = (frame: Frame, first: number): Frame => pick(frame, (i) => i >= first);

function pick(frame: Frame, wanted: (index: number) => boolean): Frame {
  const places = [...frame.times.keys()].filter(wanted);
  return {
    ...frame,
    tags: null,
    times: Float64Array.from(places, (i) => frame.times[i]!),
    values: Float64Array.from(places, (i) => frame.values[i]!),
    status: Uint32Array.from(places, (i) => frame.status[i]!),
    origins: Uint8Array.from(places, (i) => frame.origins?.[i] ?? 0),
    wholes: null,
  };
}
