/** How values come of a session: what asking and being told have in common. */
import type { Span } from '@wide-ledger/core';
import type { ConfiguredTag, SourceState } from '@wide-ledger/contract';
import type { Fault, Sample } from '../kinds/kind.ts';
import type { Lapse } from './beats.ts';

/** What was read, or told, at a moment. Microseconds. */
export interface Read {
  readonly samples: readonly Sample[];
  /** When samples without a time of their own were taken. */
  readonly stamp: number;
  /** Until when it vouches for what it read; null: more of the same time is to come. */
  readonly until: number | null;
  /** Time before it in which nothing was read, with whose tags: null for all of the source's. */
  readonly missed: (Lapse & { readonly tags: readonly number[] | null; readonly outrun: boolean }) | null;
}

export interface AcquisitionEvents {
  read(read: Read): void;
  /** @param at microseconds: from when on nothing is known. */
  failed(error: unknown, at: number): void;
  /** A record was read through: of tags that are read for the first time nothing is missing since then. Microseconds. */
  vouched(from: number, to: number, tags: readonly number[] | null): void;
  /** Something could not be read, and the rest goes on. */
  trouble(fault: Fault): void;
  /** Resolves once all that was told by now is on the disk. */
  kept(soon: boolean): Promise<void>;
  /**
   * The source dropped values of a tag.
   * @param lost between two of its values, by the source's clock; else between two moments by the collector's
   */
  dropped(tag: number, lost: Span, bySource: boolean): void;
}

/** Gets the values of the tags of one source, while a session stands. */
export interface Acquisition<Session> {
  /** Takes the tags. Those that stay see no gap. */
  arrange(tags: readonly ConfiguredTag[]): void;
  /** Sees whether the source answers. @throws SourceAway */
  prove(session: Session): Promise<void>;
  start(session: Session): void;
  stop(): void;
  /** The clock was set: what comes next begins anew. */
  beginAnew(): void;
  readonly timing: SourceState['timing'];
}
