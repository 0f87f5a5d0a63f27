/** What a kind of source is to a collector. What a kind cannot do is not here, rather than failing when it is asked. */
import type { ConfiguredTag, NewSource, PathCheck } from '@wide-ledger/contract';

/** A value on its way from a source: a number, a 64-bit integer, a text, or none. Booleans and states are numbers. */
export type Value = number | bigint | string | null;

/** What was wrong with one tag alone, for people. */
export interface Fault {
  readonly sentence: string;
  readonly code: string;
}

export interface Sample {
  readonly tag: number;
  readonly value: Value;
  /** OPC UA status code. */
  readonly status: number;
  /** The source's own time stamp in microseconds; null where the protocol carries none. */
  readonly sourceTime: number | null;
  readonly fault: Fault | null;
}

/** The source as a whole does not answer. */
export class SourceAway extends Error {
  constructor(
    sentence: string,
    readonly code: string,
    /** OPC UA status for the values that are missing. */
    readonly status: number,
  ) {
    super(sentence);
    this.name = 'SourceAway';
  }
}

/** A connection to a source that is asked at intervals. */
export interface PolledSession {
  readonly acquires: 'poll';
  /** Reads tags once, neighbours in one request. @throws SourceAway */
  read(tags: readonly ConfiguredTag[]): Promise<Sample[]>;
  close(): void;
}

/** A connection that stands, by the way in which values come of it. */
export type Session = PolledSession;

export interface Kind {
  /** Walks the path to a source rung by rung; never throws. */
  check(source: NewSource): Promise<PathCheck>;
  /** Opens a connection. @throws SourceAway when the source cannot be reached. */
  open(source: NewSource): Promise<Session>;
}

/** The kind of a source; null where this collector does not know it. */
export type KindOf = (source: { readonly kind: string }) => Kind | null;
