/** One source, put together: its connection, the reading of its tags, what is kept of it, and the book of its watches. */
import type { ConfiguredSource, ConfiguredTag, SourceState } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import type { Acquisition, AcquisitionEvents, Read } from '../acquisition/acquisition.ts';
import { Polling } from '../acquisition/polling.ts';
import { Subscribing } from '../acquisition/subscribing.ts';
import { Connection } from '../connection/connection.ts';
import type { Gathering } from '../gathering/gathering.ts';
import type { Kind, Sample, Session, Surroundings } from '../kinds/kind.ts';
import { Keeping } from '../tagLife/keeping.ts';
import { Clock } from '../watching/clock.ts';
import { WatchBook, type SourceNotes } from '../watching/watchBook.ts';
import { Rates } from './rates.ts';
import { TrafficMeter } from './traffic.ts';
import { Troubles } from './troubles.ts';

/** Reads the tags of one source, each at its interval, and keeps account of what was watched and what was not. */
export class SourceWatcher {
  private byId = new Map<number, ConfiguredTag>();
  private readonly keeping = new Keeping();
  private readonly book: WatchBook;
  private readonly polling: Polling;
  private readonly subscribing: Subscribing;
  private session: Session | null = null;
  private readonly connection: Connection;
  private readonly rates = new Rates();
  private readonly traffic = new TrafficMeter();
  private readonly troubles = new Troubles();
  private readonly forgetClock: () => void;
  private state: SourceState['state'] = 'connecting';
  private stateSince = Date.now();

  /** @param notes what was remembered of it when the collector ended. */
  constructor(
    private source: ConfiguredSource,
    private version: number,
    kind: Kind,
    around: Surroundings,
    private readonly gathering: Gathering,
    notes: SourceNotes | null,
    private readonly clock: Clock = new Clock(),
  ) {
    this.book = new WatchBook(
      source.id,
      gathering,
      () => this.byId.keys(),
      (tags, at, status) => this.markMissing(tags, at, status),
      notes,
    );
    const events: AcquisitionEvents = {
      read: (read) => this.take(read),
      failed: (error, due) => this.lose(error, due),
      dropped: (tag, from, to) => this.book.dropped(tag, from, to),
    };
    this.polling = new Polling(clock, events);
    this.subscribing = new Subscribing(clock, events);
    this.connection = new Connection(() => kind.open(this.source, around), {
      prove: (session) => this.acquisitionOf(session).prove(session),
      opened: (session) => {
        this.session = session;
        this.enter('watching');
        this.acquisitionOf(session).start(session);
      },
      lost: (away) => {
        this.troubles.note(away.code, away.message, this.clock.now());
        this.session = null;
        for (const acquisition of this.acquisitions) acquisition.stop();
        this.book.away(away, this.lostAt ?? this.nowMicros(), this.version);
        this.lostAt = null;
        this.enter('away');
      },
    });
    this.forgetClock = clock.onStep((step) => {
      if (this.state !== 'watching') return;
      this.book.clockStep(step, this.version);
      for (const acquisition of this.acquisitions) acquisition.beginAnew();
      this.keeping.forgetAll();
    });
    this.arrange(source.tags);
    this.book.endedWithoutNotice();
    void this.connection.connect();
  }

  /** The beat on which a read failed: from there on nothing is known. */
  private lostAt: number | null = null;

  private readonly nowMicros = (): number => Math.round(this.clock.now() * 1000);

  private get acquisitions(): readonly Acquisition<never>[] {
    return [this.polling, this.subscribing];
  }

  /** How values come of a session: by asking it, or by what it tells. */
  private acquisitionOf(session: Session): Acquisition<Session> {
    return session.acquires === 'poll' ? this.polling : this.subscribing;
  }

  get id(): number {
    return this.source.id;
  }

  /** What the connection is made of: another one is another connection. */
  get connectedBy(): string {
    return JSON.stringify([this.source.kind, this.source.connection]);
  }

  get notes(): SourceNotes {
    return this.book.notes;
  }

  /** Takes a new version of the tags without letting go of the connection: unchanged tags see no gap. */
  update(source: ConfiguredSource, version: number): void {
    this.report();
    const staying = new Set(source.tags.map(({ id }) => id));
    const leaving = [...this.byId.keys()].filter((id) => !staying.has(id));
    // Nobody reads them any more: no reader is to take their last value for the present.
    this.markMissing(leaving, this.book.after(this.nowMicros()), Status.BadOutOfService);
    this.source = source;
    this.version = version;
    this.arrange(source.tags);
  }

  private arrange(tags: readonly ConfiguredTag[]): void {
    this.byId = new Map(tags.map((tag) => [tag.id, tag]));
    for (const acquisition of this.acquisitions) acquisition.arrange(tags);
  }

  private take({ samples, stamp, until, missed }: Read): void {
    if (missed) this.book.missed(missed);
    // A read vouches for no time that has not come: its answer may have come after a long stop.
    this.book.watched(Math.min(this.nowMicros(), until));
    for (const sample of samples) this.takeSample(sample, stamp);
  }

  private takeSample({ tag: id, value, status, sourceTime, fault }: Sample, stamp: number): void {
    const tag = this.byId.get(id);
    if (!tag) return;
    this.rates.noteRead();
    if (this.book.tagFault(id, fault, stamp) && fault)
      this.troubles.note(fault.code, `${tag.name}: ${fault.sentence}`, stamp / 1000);
    const time = sourceTime ?? stamp;
    if (!this.keeping.keeps(tag, time, value, status, fault)) return;
    this.rates.noteKept();
    this.gathering.sample(id, time, value, status);
  }

  private markMissing(tags: Iterable<number>, at: number, status: number): void {
    for (const tag of tags) {
      this.gathering.sample(tag, at, null, status);
      this.keeping.forget(tag);
    }
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

  /** Hands the span watched since the last call to the gathering. */
  report(): void {
    this.book.report(this.version);
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
      timing: this.session ? this.acquisitionOf(this.session).timing : {},
      clockSkewMilliseconds: this.session?.clockSkew ?? null,
      traffic: this.traffic.perSecond(this.session?.traffic ?? null),
      troubles: this.troubles.list,
      facts: this.session?.facts ?? [],
    };
  }

  /** Ends watching for good; says so in the archive, that nobody takes the silence for calm. */
  stop(sentence: string): void {
    this.report();
    this.book.end(sentence, this.nowMicros());
    this.forgetClock();
    for (const acquisition of this.acquisitions) acquisition.stop();
    this.connection.stop();
  }
}
