/** One source, put together: its connection, the reading of its tags, what is kept of it, and the book of its watches. */
import {
  KINDS,
  connectionAlone,
  recoverySettings,
  type ConfiguredSource,
  type ConfiguredTag,
  type RecoverySettings,
  type SourceState,
  type WantedHole,
} from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import type { AcquisitionEvents, Read } from '../acquisition/acquisition.ts';
import { Acquisitions } from '../acquisition/acquisitions.ts';
import { Connection } from '../connection/connection.ts';
import type { Gathering } from '../gathering/gathering.ts';
import { SourceAway, WriteRefused, type Kind, type Session, type Surroundings } from '../kinds/kind.ts';
import { readThrough } from '../recovery/readThrough.ts';
import { Recovery, type RecoveryNotes, type RecoverySurroundings } from '../recovery/recovery.ts';
import type { SharedSource, Lease, LeaseNotes } from '../standby/lease.ts';
import { Clock } from '../watching/clock.ts';
import { WatchBook, type Missed, type SourceNotes } from '../watching/watchBook.ts';
import { DeviceValues } from './deviceValues.ts';
import { Intake, SKEW_THAT_MATTERS, type IntakeNotes } from './intake.ts';
import { Rates } from './rates.ts';
import { TrafficMeter } from './traffic.ts';
import { Troubles } from './troubles.ts';
import { SourceWays, secondOf } from './sourceWays.ts';

/** What is remembered of a source across a restart: how its watch stood, and what is still to be fetched of its past. */
export interface WatcherNotes extends SourceNotes, IntakeNotes, Partial<RecoveryNotes> {
  /** Whose turn it was, where another collector reads the same source. */
  readonly lease?: LeaseNotes;
  /** The source's clock minus the collector's, in milliseconds. */
  readonly skew?: number;
}

/** Where what comes of sources goes. */
export interface Outlet {
  /** Where what is read goes as long as others read it, too, and whose it is to fetch what was missed. */
  readonly lease: Pick<Lease, 'gathering' | 'isMine'>;
  /** Writes what was fetched of a source's past to the spool, with how far it got: both or neither. */
  keepFetched: RecoverySurroundings['keep'];
  /** Resolves once all that was handed on by now is on the spool; where there is none, at once. */
  kept?(soon: boolean): Promise<void>;
}

/** Reads the tags of one source, each at its interval, and keeps account of what was watched and what was not. */
export class SourceWatcher implements SharedSource {
  private byId = new Map<number, ConfiguredTag>();
  private readonly intake: Intake;
  private readonly book: WatchBook;
  private readonly recovery: Recovery;
  private readonly acquisitions: Acquisitions;
  private session: Session | null = null;
  /** The source's clock minus this machine's, in milliseconds, as it was last known. */
  private skew: number;
  private readonly connection: Connection;
  private readonly ways: SourceWays;
  private readonly rates = new Rates();
  private readonly traffic = new TrafficMeter();
  private readonly troubles = new Troubles();
  private readonly forgetClock: () => void;
  /** What the source holds at this moment. */
  readonly values = new DeviceValues((tag) => this.reaching(tag));
  private state: SourceState['state'] = 'connecting';
  private stateSince = Date.now();

  /** @param notes what was remembered of it when the collector ended. */
  constructor(
    private source: ConfiguredSource,
    private version: number,
    kind: Kind,
    around: Surroundings,
    private readonly outlet: Outlet,
    notes: WatcherNotes | null,
    private readonly clock: Clock = new Clock(),
    /** Why the collector ended last, where that was its own fault. */
    endedBecause?: string,
  ) {
    this.skew = notes?.skew ?? 0;
    const tags = (): ReadonlyMap<number, ConfiguredTag> => this.byId;
    this.intake = new Intake(
      {
        gathering: () => outlet.lease.gathering,
        tags,
        shift: () => this.shift,
        connection: () => this.source.connection,
        isRecord: () => this.session?.acquires === 'record',
        trouble: (code, sentence, at) => this.troubles.note(code, sentence, at),
        noteKept: () => this.rates.noteKept(),
      },
      notes,
    );
    this.book = new WatchBook(
      {
        source: source.id,
        gathering: () => outlet.lease.gathering,
        tagsNow: () => this.byId.keys(),
        markMissing: (missing, at, status) => this.intake.markMissing(missing, at, status),
        recoverable: () => this.isRecoverable,
        missed: (missed) => (outlet.lease.isMine ? this.missed(missed) : undefined),
      },
      notes,
    );
    this.recovery = new Recovery(
      {
        source: source.id,
        settings: () => this.recovering,
        tags,
        tell: (span) => outlet.lease.gathering.recovery(span),
        keep: (fetched, commit) => this.outlet.keepFetched(fetched, commit),
        trouble: (code, sentence) => this.troubles.note(code, sentence, this.clock.now()),
      },
      { holes: notes?.holes ?? [], ordered: notes?.ordered ?? [] },
    );
    const events: AcquisitionEvents = {
      read: (read) => this.take(read),
      failed: (error, due) => this.lose(error, due),
      trouble: ({ code, sentence }) => this.troubles.note(code, sentence, clock.now()),
      kept: (soon) => outlet.kept?.(soon) ?? Promise.resolve(),
      vouched: (from, to, tags) => this.missed({ from, to, tags, mark: null }),
      dropped: (tag, { from, to }, bySource) => {
        const shift = bySource ? this.shift : 0;
        this.book.dropped(tag, { from: from - shift, to: to - shift }, bySource);
      },
    };
    const waiting = (): number => outlet.lease.gathering.size;
    const following = { waiting, reads: () => outlet.lease.isMine };
    this.acquisitions = new Acquisitions(clock, events, following, notes?.record ?? null);
    this.ways = new SourceWays(source, kind, around);
    this.connection = new Connection(this.ways, {
      prove: (session) => this.acquisitions.of(session).prove(session),
      opened: (session, before) => {
        if (before) {
          this.acquisitions.stop();
          this.recovery.stop();
        }
        this.session = session;
        this.noteSkew();
        this.enter('watching');
        this.ways.learn(session);
        if (this.ways.count() > 1) this.arrange(this.source.tags);
        this.acquisitions.of(session).start(session);
        this.recovery.start(session);
      },
      lost: (away) => {
        this.troubles.note(away.code, away.message, this.clock.now());
        this.session = null;
        this.acquisitions.stop();
        this.recovery.stop();
        this.book.away(away, this.lostAt ?? this.nowMicros(), this.version);
        this.lostAt = null;
        this.enter('away');
      },
    });
    this.forgetClock = clock.onStep((step) => {
      if (this.state !== 'watching') return;
      this.book.clockStep(step, this.version);
      this.acquisitions.beginAnew();
      this.intake.releaseAll();
    });
    this.arrange(source.tags);
    this.intake.goOn(notes?.held);
    this.book.endedWithoutNotice(endedBecause);
  }

  /** Begins to connect, and goes on until {@link stop}. */
  open(): void {
    void this.connection.connect();
  }

  /** Something failed in its library where nobody could catch it: the connection that it came of is given up. */
  fault(error: Error): void {
    const sentence = `The part of the collector that reads this source failed: ${error.message.slice(0, 300)}. It connects again.`;
    this.lose(new SourceAway(sentence, 'FAULT', Status.BadInternalError), this.nowMicros());
  }

  /** The beat on which a read failed: from there on nothing is known. */
  private lostAt: number | null = null;

  private readonly nowMicros = (): number => Math.round(this.clock.now() * 1000);

  get id(): number {
    return this.source.id;
  }

  /** What the connection is made of: another one is another connection. */
  get connectedBy(): string {
    return connectedBy(this.source);
  }

  get notes(): WatcherNotes {
    const record = this.acquisitions.reached;
    return {
      ...this.book.notes,
      ...this.recovery.notes,
      skew: this.skew,
      ...this.intake.notes,
      ...(record && { record }),
    };
  }

  /** How far what is fetched of its past is written. */
  get recoveryNotes(): RecoveryNotes {
    return this.recovery.notes;
  }

  /** How what was missed is to be fetched. */
  private get recovering(): RecoverySettings {
    const { kind, connection } = this.source;
    return recoverySettings(connection, KINDS[kind].offers.history);
  }

  /** Takes a new version of the tags without letting go of the connection: unchanged tags see no gap. */
  update(source: ConfiguredSource, version: number): void {
    this.report();
    const staying = new Set(source.tags.map(({ id }) => id));
    const leaving = [...this.byId.keys()].filter((id) => !staying.has(id));
    // Nobody reads them any more: no reader is to take their last value for the present.
    this.intake.markMissing(leaving, this.book.after(this.nowMicros()), Status.BadOutOfService);
    this.source = source;
    this.ways.source = source;
    this.version = version;
    this.arrange(source.tags);
  }

  /** By the way in use a tag may lie elsewhere. */
  private arrange(given: readonly ConfiguredTag[]): void {
    const tags = this.ways.tagsBy(this.connection.way, given);
    this.byId = new Map(tags.map((tag) => [tag.id, tag]));
    this.acquisitions.arrange(tags);
  }

  private take({ samples, stamp, until, missed }: Read): void {
    if (missed) this.book.missed(missed);
    if (until !== null) {
      const now = this.nowMicros();
      this.book.watched(Math.min(now, stamp));
      // A read vouches for no time that has not come: its answer may have come after a long stop.
      this.book.watched(Math.min(now, until));
    }
    for (const sample of samples) {
      if (this.byId.has(sample.tag)) this.rates.noteRead();
      this.intake.take(sample, stamp, this.book);
    }
  }

  get shift(): number {
    return Math.round(this.skew * 1000);
  }

  get pace(): number {
    return Math.min(...this.source.tags.map(({ reading }) => reading.intervalMilliseconds)) * 1000;
  }

  restate(into: Gathering, at: number): void {
    this.intake.restate(into, at);
    for (const outage of this.book.faultyTags) into.outage({ ...outage, from: Math.max(outage.from, at) });
  }

  joined(from: number, to: number, into: Gathering): void {
    if (to > from) into.watch({ source: this.source.id, version: this.version, from, to });
  }

  leftUnwatched(from: number, to: number, into: Gathering): void {
    const sentence =
      'No collector watched in between: the one that had been watching ended, and this one had not begun.';
    const outage = { source: this.source.id, tag: null, from, to, cause: 'collector', sentence, code: null } as const;
    into.outage({ ...outage, recoverable: this.isRecoverable, within: false });
    const mark = this.intake.markMissing(this.byId.keys(), from + 1, Status.BadNotConnected, into);
    this.missed({ from, to, tags: null, mark });
  }

  /** What nobody watched is fetched of a source that keeps a past; a record was read through before watching goes on. */
  private missed(missed: Missed): void {
    if (this.session?.acquires !== 'record') {
      this.recovery.missed(missed);
      return;
    }
    const told = readThrough(this.source.id, missed, this.byId.keys());
    this.outlet
      .keepFetched(told, () => () => undefined)
      .catch((error: unknown) => this.troubles.note('SPOOL', (error as Error).message, this.clock.now()));
  }

  /** Remembers how the source's clock stands, for when the source is away; a little is within what stamps are good for. */
  private noteSkew(): void {
    const skew = this.session?.clockSkew ?? this.skew;
    this.skew = Math.abs(skew) < SKEW_THAT_MATTERS ? 0 : skew;
  }

  private lose(error: unknown, at: number): void {
    this.lostAt = at;
    this.connection.lose(error);
  }

  private enter(state: SourceState['state']): void {
    if (this.state === state) return;
    this.state = state;
    this.stateSince = Date.now();
  }

  /** Whether the source keeps what is missed, and may be asked for it. */
  get isRecoverable(): boolean {
    return this.recovering.mode !== 'off';
  }

  /** What was read between two moments could not be kept: nobody is to take what was before for what was then. */
  letGo(from: number, to: number): void {
    const mark = this.intake.markMissing(this.byId.keys(), from + 1, Status.BadDataLost);
    this.recovery.missed({ from, to, tags: null, mark });
  }

  /**
   * Takes an order to fetch something of the source's past; without anything: to leave it.
   * @returns why it cannot; empty where it can.
   */
  recover(order: number, wanted: readonly WantedHole[]): string {
    if (wanted.length === 0) this.recovery.forget(order);
    else if (this.recovering.mode === 'off')
      return KINDS[this.source.kind].offers.history
        ? `${this.source.name} is not to be asked for its past: recovering is off in its connection.`
        : `${this.source.name} keeps no past of its own.`;
    else this.recovery.order(order, wanted);
    return '';
  }

  private reaching(id: number): [Session, ConfiguredTag] {
    const tag = this.byId.get(id);
    if (!tag) throw new WriteRefused('This collector does not read that tag.', 'NOT_READ_HERE');
    const { session } = this;
    if (!session || this.state !== 'watching')
      throw new WriteRefused(`${this.source.name} is away: ${this.summary.sentence}`, this.summary.code ?? 'AWAY');
    return [session, tag];
  }

  /** Hands the span watched since the last call to the gathering. */
  report(): void {
    this.book.report(this.version);
    this.recovery.look();
    this.noteSkew();
  }

  get summary(): SourceState {
    const away = this.state !== 'watching';
    const { read, kept } = this.rates.perSecond;
    const { trouble } = this.book;
    return {
      source: this.source.id,
      state: this.state,
      since: this.stateSince,
      sentence: away ? (trouble?.sentence ?? 'Connecting for the first time.') : '',
      code: away ? (trouble?.code ?? null) : null,
      valuesPerSecond: away ? 0 : read,
      keptPerSecond: away ? 0 : kept,
      timing: this.session ? this.acquisitions.of(this.session).timing : {},
      clockSkewMilliseconds: this.session?.clockSkew ?? null,
      traffic: this.traffic.perSecond(this.session?.traffic ?? null),
      troubles: this.troubles.list,
      facts: [...this.ways.factsBy(this.connection.way), ...(this.session?.facts ?? [])],
      way: this.ways.count() > 1 ? this.connection.way + 1 : null,
      faultyTags: this.book.faultyTags.length,
      recovery: this.recovery.state,
    };
  }

  /**
   * Has the source read by another of its ways. @param number 1 is the first.
   * @returns what was done, in words. @throws SourceAway where that way does not lead to it: then all stays as it was.
   */
  async takeWay(number: number): Promise<string> {
    if (number > this.ways.count()) throw new Error(`There is no way ${number} to ${this.source.name}.`);
    await this.connection.use(number - 1);
    return `${this.source.name} is read by way ${number}: ${this.ways.whither(number - 1)}.`;
  }

  /** Ends watching for good; says so in the archive, that nobody takes the silence for calm. */
  stop(sentence: string): void {
    this.report();
    this.book.end(sentence, this.nowMicros());
    this.forgetClock();
    this.acquisitions.stop();
    this.recovery.stop();
    this.connection.stop();
  }
}

/** What the connection of a source is made of, to be compared. */
export function connectedBy(source: ConfiguredSource): string {
  const { kind, connection, changeOverSeconds, staysOver } = source;
  const second = secondOf(source);
  const ways = second ? [connectionAlone(second), changeOverSeconds, staysOver] : [];
  return JSON.stringify([kind, connectionAlone(connection), ...ways]);
}
