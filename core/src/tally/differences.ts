/** Where two stores differ, and in what. */
import type { Span } from '../coverage/spans.ts';
import { emptyFrame, wholeAt, type Frame } from '../frame/frame.ts';
import { selectSamples, textAt } from '../samples/merge.ts';
import { REMOVED } from '../status/codes.ts';

/** A cell with what it holds; cells that hold nothing are left out. */
export type CellTally = readonly [from: number, to: number, count: number, tally: string];

/** The cells, of two lists over one window, that do not hold the same, in ascending time. */
export function differingCells(here: readonly CellTally[], there: readonly CellTally[]): Span[] {
  const left = new Map(here.map((cell) => [cell[0], cell]));
  const differing: Span[] = [];
  for (const [from, to, count, tally] of there) {
    const own = left.get(from);
    if (own?.[2] === count && own[3] === tally) left.delete(from);
    else if (!own) differing.push({ from, to });
  }
  for (const [from, to] of left.values()) differing.push({ from, to });
  return differing.sort((a, b) => a.from - b.from);
}

/** How two frames of one tag differ: in how many times, and in what. */
export interface SampleDifferences {
  readonly missingHere: number;
  readonly missingThere: number;
  readonly differentValue: number;
  readonly differentStatus: number;
}

const NO_DIFFERENCE: SampleDifferences = { missingHere: 0, missingThere: 0, differentValue: 0, differentStatus: 0 };

const valueIn = (frame: Frame, i: number): unknown =>
  frame.texts.length > 0 ? textAt(frame, i) : (wholeAt(frame, i) ?? frame.values[i]);

/** Compares frames in ascending time. A sample that differs in value and in status counts as one of another value. */
export function differenceOf(here: Frame, there: Frame): SampleDifferences {
  const found = { ...NO_DIFFERENCE };
  for (let i = 0, k = 0; i < here.times.length || k < there.times.length;) {
    const [a, b] = [here.times[i] ?? Infinity, there.times[k] ?? Infinity];
    if (a < b) {
      found.missingThere++;
      i++;
    } else if (b < a) {
      found.missingHere++;
      k++;
    } else {
      if (!Object.is(valueIn(here, i), valueIn(there, k))) found.differentValue++;
      else if (here.status[i] !== there.status[k]) found.differentStatus++;
      i++;
      k++;
    }
  }
  return found;
}

/** What makes one frame of another: what differs in it or is not there, and what is to go, by their times. */
export interface Repair {
  /** Samples to be written. */
  readonly write: Frame;
  /** Samples that say "removed", at the times of those that are to go. */
  readonly remove: Frame;
}

/** @param from what stands and is right. @param to what is to become the same. */
export function repairOf(from: Frame, to: Frame): Repair {
  const standing = new Map(Array.from(to.times, (time, i) => [time, i]));
  const write = selectSamples(from, (i) => {
    const k = standing.get(from.times[i]!);
    standing.delete(from.times[i]!);
    return k === undefined || !Object.is(valueIn(from, i), valueIn(to, k)) || from.status[i] !== to.status[k];
  });
  const remove = emptyFrame(standing.size, { origins: true });
  [...standing.keys()].forEach((time, i) => {
    remove.times[i] = time;
    remove.values[i] = NaN;
    remove.status[i] = REMOVED;
  });
  return { write, remove };
}
