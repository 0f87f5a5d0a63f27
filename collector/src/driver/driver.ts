/** What every kind of source offers a collector. What a driver cannot do it says, rather than doing nothing. */
import type { ConfiguredTag, NewSource, PathCheck } from '@wide-ledger/contract';

export interface Reading {
  readonly tag: number;
  /** NaN where there is no value. */
  readonly value: number;
  readonly status: number;
  /** The source's own time stamp in microseconds; null where the protocol carries none. */
  readonly sourceTime: number | null;
  /** What was wrong with this tag alone, for people; null while all is well. */
  readonly fault: { readonly sentence: string; readonly code: string } | null;
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

/** The driver's protocol has no such thing. */
export class NotOffered extends Error {
  constructor(what: string, protocol: string) {
    super(`${protocol} offers no ${what}.`);
    this.name = 'NotOffered';
  }
}

export interface Driver {
  /** Walks the path to the source rung by rung; never throws. */
  check(): Promise<PathCheck>;
  /** The source's tree. @throws NotOffered */
  browse(path: string): Promise<readonly { path: string; name: string }[]>;
  /** @throws SourceAway when the source cannot be reached. Opens the connection. */
  connect(): Promise<void>;
  /** Reads tags once, neighbours in one request. @throws SourceAway */
  read(tags: readonly ConfiguredTag[]): Promise<Reading[]>;
  /** Asks the source to send changes by itself. @throws NotOffered */
  watch(tags: readonly ConfiguredTag[], take: (readings: Reading[]) => void): Promise<() => void>;
  /** Reads what the source itself has kept. @throws NotOffered */
  history(tag: ConfiguredTag, from: number, to: number): Promise<Reading[]>;
  /** Alarms and events. @throws NotOffered */
  events(from: number): Promise<readonly object[]>;
  /** @throws NotOffered */
  write(tag: ConfiguredTag, value: number): Promise<void>;
  close(): void;
}

export type MakeDriver = (source: NewSource) => Driver;
