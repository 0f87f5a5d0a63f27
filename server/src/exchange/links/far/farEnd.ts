/** What a link knows of its far end, whatever that is: where it stands, and how it takes what is carried. */
import type {
  CarriedAnswer,
  CarriedEntry,
  CarriedStretch,
  CarriedTag,
  CarriedTagsAnswer,
  CarriedTallies,
  HeldPaper,
  LinkRung,
  SiteAccount,
  SiteCard,
  carriedTalliesAsked,
} from '@wide-ledger/contract';
import type { Frame, Span } from '@wide-ledger/core';
import type { z } from 'zod';

/** It does not answer as it should; the message says why, for people. */
export class FarAway extends Error {}

/** It does not take what it was given, and would not take it another time. */
export class RefusedThere extends FarAway {}

/** It stands elsewhere in the journal than was thought. */
export class StandsElsewhere extends Error {}

/** Where a far end stands in the journal of the near end. */
export interface FarPosition {
  readonly epoch: number;
  readonly position: number;
  /** Of the entry at that position; empty where nothing was carried yet, or the far end keeps none. */
  readonly print: string;
  /** The greatest of the link's numbers of tags that it knows. */
  readonly lastNumber: number;
  /** Where it is a site. */
  readonly site: SiteCard | null;
  /** What it is called. */
  readonly name: string;
  /** Milliseconds by which its clock is ahead, and how far that is uncertain; absent where it does not tell. */
  readonly clock?: { readonly ahead: number; readonly uncertain: number };
  /** When values came there last; null: never. Absent where it does not tell. */
  readonly samplesAt?: string | null | undefined;
}

/** An entry on its way: its frame has the link's numbers for tags. */
export interface CarriedPart {
  readonly description: CarriedEntry;
  readonly frame: Frame;
}

/** A stretch of the journal ready to be carried. */
export interface Stretch {
  readonly head: CarriedStretch;
  readonly entries: readonly CarriedPart[];
  readonly samples: number;
}

/** @property bytes that went over the line. */
export type Taken = CarriedAnswer & { readonly bytes: number };

/** A far end that can be compared with this one. */
export interface ComparedEnd {
  tallies(asked: z.infer<typeof carriedTalliesAsked>): Promise<CarriedTallies>;
  /** What it holds of a tag, by the link's number, within a day; null for nothing. */
  samples(number: number, span: Span): Promise<Frame | null>;
  /** Takes what it lacks, or has otherwise; done again it changes nothing. */
  history(entries: readonly CarriedPart[]): Promise<Taken>;
}

/** A far end that wants to know what goes with values without being one. */
export interface FarPapers {
  /** What it has, by prints; null for one that is too old to want any. @throws FarAway */
  held(): Promise<readonly HeldPaper[] | null>;
  /** Takes papers, as JSON, in the place of those that it had. @throws FarAway, RefusedThere */
  take(papers: string): Promise<void>;
}

/** A day as it was carried, and as it stands here now. */
export interface ComparedDay {
  /** By which it is known there. */
  readonly name: string;
  readonly here: { readonly samples: number; readonly tally: string };
  /** Null where there is nothing of it; what was altered since it was written is no proof of anything. */
  readonly there: { readonly samples: number; readonly tally: string; readonly altered: boolean } | null;
}

/** A far end that is compared by whole days. */
export interface ComparedByDays {
  /** Days of UTC in a window that are over and were not to be written anyway. */
  daysIn(window: Span): Promise<readonly Span[]>;
  compare(day: Span): Promise<ComparedDay>;
  /** Makes the day there what it is here. */
  mend(day: Span): Promise<void>;
}

export interface FarEnd {
  /** Which of several addresses is in use; absent where there is one. */
  readonly inUse?: string | null;
  /** @throws FarAway */
  position(): Promise<FarPosition>;
  /** Takes note of tags by the link's numbers, and of what they are called by now. @returns for each why it cannot be carried, or null. */
  tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer>;
  /** Takes a stretch: all of it together with its position, or nothing. @throws StandsElsewhere, FarAway */
  entries(stretch: Stretch): Promise<Taken>;
  /** Hears how this site is, where somebody there wants to know. @throws FarAway */
  hear?(account: SiteAccount): Promise<void>;
  /** Does what was put off, such as a file of a day that is over. */
  settle?(): Promise<void>;
  readonly compared?: ComparedEnd;
  readonly byDays?: ComparedByDays;
  readonly papers?: FarPapers;
  /** The way to it, rung by rung, as far as it goes. */
  check(): AsyncIterable<LinkRung>;
  close(): Promise<void>;
}
