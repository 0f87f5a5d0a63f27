/** What was read of a source that another collector reads, too: held for a while, for when it is this one's turn. Times in microseconds. */
import type { OutageSpan } from '@wide-ledger/contract';
import { selectSamples, type Frame } from '@wide-ledger/core';
import type { Gathered } from '../gathering/gathering.ts';
import type { SourceNotes } from '../watching/watchBook.ts';

/** What was gathered in one go, with how the book of watches stood then. */
export interface Held {
  /** By the counter that nobody sets, in milliseconds. */
  readonly at: number;
  readonly gathered: Gathered;
  readonly notes: SourceNotes;
}

/** How a source is read, and how its clock stands. Microseconds. */
export interface Beating {
  /** The source's clock minus the collector's: samples are stamped by it. */
  readonly shift: number;
  /** From one beat to the next of what is read most often; 0 where it tells of its own accord. */
  readonly pace: number;
}

/** So many samples of one source are held at most; beyond, the oldest go. */
const MOST_SAMPLES = 1_000_000;

const samplesIn = ({ frames }: Gathered): number => frames.reduce((sum, { times }) => sum + times.length, 0);

/** Whether it says that nobody watched the source for a while, or watches it no longer. */
const tellsOfOutage = ({ outages }: Gathered): boolean => outages.some(({ tag }) => tag === null);

export class Reserve {
  private held: Held[] = [];
  private samples = 0;

  add(one: Held): void {
    this.held.push(one);
    this.samples += samplesIn(one.gathered);
    while (this.samples > MOST_SAMPLES && this.held.length > 1) this.drop();
  }

  /** Lets go of what is older than a moment. */
  forget(before: number): void {
    while (this.held[0] && this.held[0].at < before) this.drop();
  }

  /**
   * Hands over what may go on: all of it, up to where it tells of an outage later than a moment. Another collector may have
   * gone on watching: then nobody is to be told of one.
   */
  *release(outagesBefore: number): Generator<Held> {
    for (let [first] = this.held; first; [first] = this.held) {
      if (tellsOfOutage(first.gathered) && first.at > outagesBefore) return;
      this.drop();
      yield first;
    }
  }

  /** Hands over everything. */
  take(): Held[] {
    const { held } = this;
    this.held = [];
    this.samples = 0;
    return held;
  }

  private drop(): void {
    this.samples -= samplesIn(this.held.shift()!.gathered);
  }
}

/** Whether it is time in which no beat was read, as it was found afterwards. */
const isLapse = ({ within, cause }: OutageSpan): boolean => within && (cause === 'collector' || cause === 'source');

/**
 * Of what was gathered, what comes after a moment: before it another collector watched. Where that one read the beats that
 * were missed here, nothing was missed.
 */
export function gatheredAfter(
  { frames, watches, outages, recoveries }: Gathered,
  from: number,
  { shift, pace }: Beating,
): Gathered {
  const later = (frame: Frame): Frame => selectSamples(frame, (i) => frame.times[i]! > from + shift);
  const ends = ({ to }: OutageSpan): number => to ?? Infinity;
  return {
    frames: frames.map(later).filter(({ times }) => times.length > 0),
    watches: watches.filter(({ to }) => to > from).map((span) => ({ ...span, from: Math.max(span.from, from) })),
    outages: outages
      .filter((span) => ends(span) > (isLapse(span) && span.from < from ? from + pace : from))
      .map((span) => ({ ...span, from: Math.max(span.from, from) })),
    recoveries: recoveries.filter(({ to }) => to > from),
  };
}

/** The first moment that was watched; null where none was. */
export function watchBegin(gathered: readonly Gathered[]): number | null {
  const begins = gathered.flatMap(({ watches }) => watches.map(({ from }) => from));
  return begins.length === 0 ? null : Math.min(...begins);
}
