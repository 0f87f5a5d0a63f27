/** What a kind of source is to a collector. What a kind cannot do is not here, rather than failing when it is asked. */
import type { Span } from '@wide-ledger/core';
import type {
  BrowseAnswer,
  ConfiguredTag,
  DeviceValue,
  KINDS,
  MessagesAnswer,
  NewSource,
  OffersAnswer,
  PathCheck,
  RegisterBlock,
  RegistersAnswer,
  RowsAnswer,
  Rung,
  SourceKind,
  SourceState,
  UnitsAnswer,
} from '@wide-ledger/contract';
import type { z } from 'zod';
import type { Account } from '../account/account.ts';

/** A value on its way from a source: a number, a 64-bit integer, a text, or none. Booleans and states are numbers. */
export type Value = number | bigint | string | null;

/** A value as it is told: 64-bit integers as their digits. */
export const toldOf = (value: Value): DeviceValue | null => (typeof value === 'bigint' ? String(value) : value);

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

export type SourceOf<Kind extends SourceKind> = Extract<NewSource, { readonly kind: Kind }>;
/** A tag with an address as a kind of source has them. */
export type TagOf<Kind extends SourceKind> = ConfiguredTag<z.infer<(typeof KINDS)[Kind]['address']>>;

/** What passed on a connection since it was opened. Bytes of both directions. */
export interface Traffic {
  readonly requests: number;
  readonly bytes: number;
}

/** A part of what a source kept of one tag, as it gives it. */
export interface HistoryPart {
  readonly samples: readonly Sample[];
  /** Whether more will come. */
  readonly more: boolean;
  /** Whether it has a value at or before the start of what was asked for; null where this part does not tell. */
  readonly reachesBack: boolean | null;
}

/** The source gives nothing of a tag's past, and says why. */
export class HistoryRefused extends Error {
  constructor(
    sentence: string,
    readonly code: string,
  ) {
    super(sentence);
    this.name = 'HistoryRefused';
  }
}

/** The source does not take a value, and says why; or it cannot be written as it is. */
export class WriteRefused extends Error {
  constructor(
    sentence: string,
    readonly code: string,
  ) {
    super(sentence);
    this.name = 'WriteRefused';
  }
}

/** A stretch of a tag's past, by the source's clock in microseconds, and how it is to be given. */
export interface HistoryRequest<Kind extends SourceKind = SourceKind> {
  readonly tag: TagOf<Kind>;
  readonly from: number;
  readonly to: number;
  /** Most values of one call. */
  readonly most: number;
  readonly newestFirst: boolean;
}

interface AnySession<Kind extends SourceKind> {
  /**
   * Where the source keeps a past: what it kept of a tag, one call a part.
   * @throws SourceAway, HistoryRefused
   */
  history?(request: HistoryRequest<Kind>): AsyncGenerator<HistoryPart, void, void>;
  /** When the oldest value is from that it still has of a tag, by its clock in microseconds; null for none. @throws SourceAway */
  historyStart?(tag: TagOf<Kind>): Promise<number | null>;
  /** Where values can be written: what the source holds for a tag at this moment. @throws SourceAway */
  readNow?(tag: TagOf<Kind>): Promise<Sample>;
  /** The same: a value in the tag's unit. @throws SourceAway, WriteRefused */
  write?(tag: TagOf<Kind>, value: number | bigint | string): Promise<void>;
  readonly traffic?: Traffic;
  /** The source's clock minus this machine's, in milliseconds; null where the protocol tells no time. */
  readonly clockSkew?: number | null;
  /** When the source itself was started, by its clock in microseconds; null where it does not tell, or not yet. */
  readonly startedAt?: number | null;
  /** Connections to others of its kind that hold the same, as the source itself tells; ways to it beside the given ones. */
  readonly siblings?: readonly SourceOf<Kind>['connection'][];
  /** What is worth telling of it: the endpoint, the server's certificate. */
  readonly facts?: SourceState['facts'];
  close(): void;
}

/** A connection to a source that is asked at intervals. */
export interface PolledSession<Kind extends SourceKind = SourceKind> extends AnySession<Kind> {
  readonly acquires: 'poll';
  /** Reads tags once, neighbours in one request. @throws SourceAway */
  read(tags: readonly TagOf<Kind>[]): Promise<Sample[]>;
}

/** Who is told what a source says by itself. */
export interface Listener {
  changed(samples: readonly Sample[]): void;
  /** The source was heard of: whatever had changed by now has been told. */
  heard(): void;
  /**
   * The source dropped values of a tag, since it had more of them than it could hold.
   * @param lost between which of its times, by the source's clock in microseconds; null where it does not say: since it was heard last
   */
  overflowed(tag: number, lost: Span | null): void;
  lost(error: SourceAway): void;
  /** Resolves once all that was told by now is on the collector's disk. @param soon rather than at its usual beat. */
  kept(soon: boolean): Promise<void>;
}

/** A connection to a source that tells changes by itself. */
export interface SubscribedSession<Kind extends SourceKind = SourceKind> extends AnySession<Kind> {
  readonly acquires: 'subscription';
  /** Whether silence says that nothing changed. A broker is heard of without those who tell it: theirs says nothing. */
  readonly silenceTells?: boolean;
  /** Follows these tags from now on; those that were followed already, alike, go on undisturbed. @throws SourceAway */
  follow(tags: readonly TagOf<Kind>[], listener: Listener): Promise<void>;
}

/** How far a record was read: what it consists of is its kind's own. It is kept beside the values, across restarts. */
export type Cursor = Readonly<Record<string, unknown>>;

/** How far a record is read, and for whom. It goes to the notes along with what was read. */
export interface Reached {
  readonly cursor: Cursor;
  /** Tags for which it is read that far. */
  readonly tags: readonly number[];
  /** Tags that came later, and how far it is read for them: they catch up first. */
  readonly behind: { readonly tags: readonly number[]; readonly cursor: Cursor } | null;
  /** Since when it vouches, once it is read through, for tags that are read for the first time; null for all. Microseconds. */
  readonly vouches: { readonly from: number; readonly tags: readonly number[] | null } | null;
}

/** A part of a record, in its order. */
export interface RecordPart {
  readonly samples: readonly Sample[];
  /** How far it was read with these. */
  readonly cursor: Cursor;
  /** Whether there is more already. */
  readonly more: boolean;
  /** What could not be read, for people. */
  readonly troubles: readonly Fault[];
}

/** A connection to a record that somebody else writes: it is read on from where reading ended, each row once. */
export interface RecordSession<Kind extends SourceKind = SourceKind> extends AnySession<Kind> {
  readonly acquires: 'record';
  /** Whether all that is there is wanted when it is read for the first time. */
  readonly readsAll: boolean;
  /** Whether the record can be read at this moment. @throws SourceAway */
  look(): Promise<void>;
  /** Where it is read from for the first time: its beginning, or its end. @throws SourceAway */
  begin(): Promise<Cursor>;
  /** Reads on from where it was left. @throws SourceAway */
  readOn(tags: readonly TagOf<Kind>[], from: Cursor): Promise<RecordPart>;
}

/** A connection that stands, by the way in which values come of it. */
export type Session<Kind extends SourceKind = SourceKind> =
  PolledSession<Kind> | SubscribedSession<Kind> | RecordSession<Kind>;

/** What a kind finds around it in the collector. */
export interface Surroundings {
  /** Where the collector keeps what is its own, such as certificates. */
  readonly folder: string;
  /** Folders whose files it may read, and those below them. */
  readonly readable: readonly string[];
  /** A secret of the configuration by its number; null where this collector was not given it. */
  secret(id: number | null): string | null;
  /** What the collector knows of itself. */
  account(): Promise<Account>;
}

export interface Kind<Of extends SourceKind = SourceKind, Opens extends Session<Of> = Session<Of>> {
  /** Walks the path to a source rung by rung, telling each as it is done; never throws. */
  check(source: SourceOf<Of>, around: Surroundings, told: (rung: Rung) => void): Promise<PathCheck>;
  /** Opens a connection. @throws SourceAway when the source cannot be reached. */
  open(source: SourceOf<Of>, around: Surroundings): Promise<Opens>;
  /** Where a server tells what it offers before anybody signs in. @throws SourceAway */
  offers?(source: SourceOf<Of>): Promise<OffersAnswer>;
  /** Where values lie in registers: a block of them as it is. @throws SourceAway */
  registers?(source: SourceOf<Of>, block: RegisterBlock): Promise<RegistersAnswer>;
  /** Where messages pass: the newest of some topics. @throws SourceAway */
  messages?(source: SourceOf<Of>, around: Surroundings): Promise<MessagesAnswer>;
  /** Where somebody else writes a record: some of its rows, and what becomes of them. @throws SourceAway */
  rows?(source: SourceOf<Of>, around: Surroundings): Promise<RowsAnswer>;
  /** Where several devices stand behind one address: which of them answer. @throws SourceAway */
  units?(source: SourceOf<Of>, from: number, to: number): Promise<UnitsAnswer>;
  /** Where a source's tags can be looked through: what lies below a node, null for its root. @throws SourceAway */
  browse?(source: SourceOf<Of>, node: string | null, around: Surroundings): Promise<BrowseAnswer>;
}

/** The kind of a source; null where this collector does not know it. */
export type KindOf = (source: { readonly kind: string }) => Kind | null;
