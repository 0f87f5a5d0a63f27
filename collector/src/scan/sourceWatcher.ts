/** Watches one source: reads its tags on their beats, keeps what is worth keeping, and knows when it was away. */
import type { ConfiguredSource, ConfiguredTag, OutageSpan, SourceState } from '@wide-ledger/contract';
import { SECOND, Status, deadbandWidth, isKept, type KeptSample } from '@wide-ledger/core';
import { SourceAway, type Driver, type MakeDriver, type Reading } from '../driver/driver.ts';
import type { Gathering } from './gathering.ts';
import { Beats, isOnBeat, type Hole } from './beats.ts';
import { Clock, type ClockStep } from './clock.ts';
import { Pace } from './pace.ts';
import { Timing } from './timing.ts';

const RETRY_MILLISECONDS = 1000;

/** What is remembered of a source across a restart. Microseconds. */
export interface SourceNotes {
  readonly watchedUntil: number | null;
  readonly outage: OutageSpan | null;
  readonly tagOutages: readonly OutageSpan[];
}

interface Group {
  readonly interval: number;
  readonly aligned: boolean;
  readonly tags: ConfiguredTag[];
  readonly timing: Timing;
  readonly beats: Beats;
  pace: Pace | null;
  busy: boolean;
  /** Whether a beat was missed since the last read because the source had not answered yet. */
  outrun: boolean;
}

const STALLED = {
  cause: 'collector',
  sentence: 'The collector did not read for a while: it was stopped, or its machine had no time for it.',
} as const;
const SLOW = {
  cause: 'source',
  sentence: 'The source took longer to answer than until the next reads were due.',
} as const;

/** Reads the tags of one source, each at its interval, and keeps account of what was watched and what was not. */
export class SourceWatcher {
  private driver: Driver;
  private groups: Group[] = [];
  private byId = new Map<number, ConfiguredTag>();
  private readonly lastKept = new Map<number, KeptSample>();
  private state: 'watching' | 'connecting' | 'away' = 'connecting';
  private stateSince = Date.now();
  private watchedFrom: number | null = null;
  private watchedUntil: number | null;
  private outage: OutageSpan | null;
  private readonly tagOutages = new Map<number, OutageSpan>();
  private retry: NodeJS.Timeout | null = null;
  private stopped = false;
  private readCount = 0;
  private keptCount = 0;
  private rates = { at: performance.now(), values: 0, kept: 0 };
  /** When anything was read last, in microseconds; null since watching began. */
  private lastRead: number | null = null;
  private readonly forgetClock: () => void;

  constructor(
    private source: ConfiguredSource,
    private version: number,
    makeDriver: MakeDriver,
    private readonly gathering: Gathering,
    notes: SourceNotes | null,
    private readonly clock: Clock = new Clock(),
  ) {
    this.driver = makeDriver(source);
    this.forgetClock = clock.onStep((step) => this.noteClockStep(step));
    this.watchedUntil = notes?.watchedUntil ?? null;
    this.outage = notes?.outage ?? null;
    for (const outage of notes?.tagOutages ?? []) this.tagOutages.set(outage.tag!, outage);
    this.arrange(source.tags);
    if (this.watchedUntil !== null && this.outage === null) {
      this.openOutage(
        'collector',
        'The collector ended without notice and was started again later.',
        null,
        Status.BadNotConnected,
        this.watchedUntil + 1000,
      );
    }
    void this.connect();
  }

  private readonly nowMicros = (): number => Math.round(this.clock.now() * 1000);

  get id(): number {
    return this.source.id;
  }

  get connection(): string {
    return JSON.stringify([this.source.kind, this.source.connection]);
  }

  get notes(): SourceNotes {
    return { watchedUntil: this.watchedUntil, outage: this.outage, tagOutages: [...this.tagOutages.values()] };
  }

  /** Takes a new version of the tags without letting go of the connection: unchanged tags see no gap. */
  update(source: ConfiguredSource, version: number): void {
    this.report();
    const staying = new Set(source.tags.map(({ id }) => id));
    const leaving = [...this.byId.keys()].filter((id) => !staying.has(id));
    // Nobody reads them any more: no reader is to take their last value for the present.
    this.markMissing(leaving, Math.max(this.nowMicros(), (this.watchedUntil ?? 0) + 1), Status.BadOutOfService);
    this.source = source;
    this.version = version;
    this.arrange(source.tags);
    if (this.state === 'watching') this.startPaces();
  }

  private arrange(tags: readonly ConfiguredTag[]): void {
    for (const group of this.groups) group.pace?.stop();
    const old = this.groups;
    this.byId = new Map(tags.map((tag) => [tag.id, tag]));
    const groups = new Map<string, Group>();
    for (const tag of tags) {
      const { intervalMilliseconds: interval, aligned } = tag.reading;
      const key = `${interval} ${aligned}`;
      const before = old.find((one) => one.interval === interval && one.aligned === aligned);
      const { timing, beats } = before ?? { timing: new Timing(), beats: new Beats(interval * 1000) };
      const group = groups.get(key) ?? {
        interval,
        aligned,
        tags: [],
        timing,
        beats,
        pace: null,
        busy: false,
        outrun: false,
      };
      group.tags.push(tag);
      groups.set(key, group);
    }
    this.groups = [...groups.values()];
  }

  private async connect(): Promise<void> {
    if (this.stopped) return;
    try {
      await this.driver.connect();
      const [first] = this.groups;
      // A connection that answers nothing is none: the first group is read before the source counts as watched.
      if (first && !this.stopped) await this.driver.read(first.tags);
      // Taken out meanwhile: nobody asked for what comes now.
      if (this.stopped) return this.driver.close();
      this.enter('watching');
      this.startPaces();
    } catch (error) {
      this.lose(error);
    }
  }

  private startPaces(): void {
    for (const group of this.groups)
      group.pace ??= new Pace(
        group.interval,
        group.aligned,
        (due, slept) => void this.scan(group, due, slept),
        this.clock.now,
      );
  }

  private async scan(group: Group, due: number, slept: number): Promise<void> {
    this.clock.look();
    if (group.busy || this.state !== 'watching') {
      group.timing.missed++;
      // Where beats were slept through it was this process that stood still, and says nothing about the source.
      group.outrun ||= group.busy && slept === 0;
      return;
    }
    group.busy = true;
    const { outrun } = group;
    group.outrun = false;
    const started = this.clock.now();
    const counted = performance.now();
    try {
      const readings = await this.driver.read(group.tags);
      group.timing.note(started - due, performance.now() - counted);
      if (this.stopped || this.state !== 'watching') return;
      // A read that comes too late for its beat was made when it was made.
      const onBeat = group.aligned && isOnBeat(due * 1000, started * 1000);
      const stamp = Math.round((onBeat ? due : started) * 1000);
      this.noteHole(group, group.beats.note(stamp), outrun);
      // A read vouches for the time until the next beat, and for no more: its answer may have come after a long stop.
      this.noteWatched(Math.min(this.nowMicros(), stamp + group.interval * 1000));
      this.lastRead = Math.max(this.lastRead ?? stamp, stamp);
      for (const reading of readings) this.take(reading, stamp);
    } catch (error) {
      if (this.state === 'watching') this.lose(error, Math.round(due * 1000));
    } finally {
      group.busy = false;
    }
  }

  /**
   * Beats that were missed: of every group, where nothing was read in between, else of this group's tags. Each of them
   * gets a Bad sample where the hole begins, so that no reader takes the last value for the present.
   */
  private noteHole(group: Group, hole: Hole | null, outrun: boolean): void {
    if (hole === null) return;
    const silent = this.lastRead === null || this.lastRead <= hole.from + group.interval * 1000;
    const why = outrun ? SLOW : STALLED;
    const common = { ...hole, ...why, source: this.source.id, code: null, recoverable: false, within: true } as const;
    const tags = silent ? [...this.byId.keys()] : group.tags.map(({ id }) => id);
    if (silent) this.gathering.outage({ ...common, tag: null });
    else for (const tag of tags) this.gathering.outage({ ...common, tag });
    this.markMissing(tags, hole.from + 1, Status.BadNotConnected);
    // The other groups were silent for the same time: said once.
    if (silent) for (const other of this.groups) if (other !== group) other.beats.forget();
  }

  private markMissing(tags: Iterable<number>, at: number, status: number): void {
    for (const tag of tags) {
      this.gathering.sample(tag, at, NaN, status);
      this.lastKept.delete(tag);
    }
  }

  /**
   * The machine's clock was set while this source was watched. Time that it jumped over was watched by nobody; time that
   * it shows a second time is recorded twice, and later values stand over earlier ones.
   */
  private readonly noteClockStep = ({ expected, shown }: ClockStep): void => {
    if (this.state !== 'watching') return;
    const [was, is] = [Math.round(expected * 1000), Math.round(shown * 1000)];
    const seconds = Math.round(Math.abs(is - was) / 1e5) / 10;
    const how =
      is > was
        ? `The clock of the collector’s machine jumped forward by ${seconds} s, or the machine was asleep.`
        : `The clock of the collector’s machine was set back by ${seconds} s: this time was recorded twice, and what was recorded later stands.`;
    this.report();
    const from = Math.min(was, is);
    const common = { source: this.source.id, tag: null, code: null, recoverable: false, within: true } as const;
    this.gathering.outage({ ...common, from, to: Math.max(was, is), cause: 'clock', sentence: how });
    if (is > was) this.markMissing(this.byId.keys(), from + 1, Status.BadNotConnected);
    // Watching begins anew at what the clock shows now.
    this.watchedFrom = null;
    this.watchedUntil = null;
    this.lastRead = null;
    this.lastKept.clear();
    for (const { beats } of this.groups) beats.forget();
  };

  private noteWatched(until: number): void {
    if (this.outage) {
      this.gathering.outage({ ...this.outage, to: until });
      this.outage = null;
      this.watchedUntil = null;
    }
    this.watchedFrom ??= this.watchedUntil ?? until;
    this.watchedUntil = Math.max(until, this.watchedUntil ?? until);
  }

  private take(reading: Reading, stamp: number): void {
    const tag = this.byId.get(reading.tag);
    if (!tag) return;
    this.readCount++;
    this.noteFault(reading, stamp);
    const sample = { time: reading.sourceTime ?? stamp, value: reading.value, status: reading.status };
    const { deadband, longestSilenceSeconds } = tag.reading;
    const range = tag.low !== null && tag.high !== null ? { low: tag.low, high: tag.high } : null;
    const silence = longestSilenceSeconds === null ? null : longestSilenceSeconds * SECOND;
    const last = this.lastKept.get(tag.id);
    // The same fault again is no news, though nothing else would filter it.
    if (last && reading.fault && last.status === sample.status) return;
    if (!isKept(sample, last, deadbandWidth(deadband, range), silence)) return;
    this.lastKept.set(tag.id, sample);
    this.keptCount++;
    this.gathering.sample(tag.id, sample.time, sample.value, sample.status);
  }

  /** A tag that cannot be read while its source is watched is an exception to the watch. */
  private noteFault({ tag, fault }: Reading, stamp: number): void {
    const open = this.tagOutages.get(tag);
    if (fault && !open) {
      const outage: OutageSpan = {
        source: this.source.id,
        tag,
        from: stamp,
        to: null,
        cause: 'tag',
        ...fault,
        recoverable: false,
        within: false,
      };
      this.tagOutages.set(tag, outage);
      this.gathering.outage(outage);
    } else if (!fault && open) {
      this.tagOutages.delete(tag);
      this.gathering.outage({ ...open, to: stamp });
    }
  }

  private lose(error: unknown, at = this.nowMicros()): void {
    if (this.stopped) return;
    const away =
      error instanceof SourceAway
        ? error
        : new SourceAway(`Reading failed: ${(error as Error).message}`, 'UNEXPECTED', Status.BadCommunicationError);
    this.report();
    // The next watch starts where watching starts again, not where it ended.
    this.watchedFrom = null;
    this.lastRead = null;
    for (const group of this.groups) {
      group.beats.forget();
      group.pace?.stop();
      group.pace = null;
    }
    this.driver.close();
    this.enter('away');
    if (this.outage) {
      const known = this.outage;
      if (known.code !== away.code && known.cause === 'source') {
        this.outage = { ...known, sentence: away.message, code: away.code };
        this.gathering.outage(this.outage);
      }
    } else {
      this.openOutage('source', away.message, away.code, away.status, Math.max(at, (this.watchedUntil ?? 0) + 1));
    }
    this.retry = setTimeout(() => void this.connect(), RETRY_MILLISECONDS);
  }

  /** From the end of the watch on; every tag gets a Bad sample, so that no reader takes the last value for the present. */
  private openOutage(
    cause: OutageSpan['cause'],
    sentence: string,
    code: string | null,
    status: number,
    markAt: number,
  ): void {
    this.outage = {
      source: this.source.id,
      tag: null,
      from: this.watchedUntil ?? markAt,
      to: null,
      cause,
      sentence,
      code,
      recoverable: false,
      within: false,
    };
    this.gathering.outage(this.outage);
    this.markMissing(this.byId.keys(), markAt, status);
  }

  private enter(state: 'watching' | 'away'): void {
    if (this.state === state) return;
    this.state = state;
    this.stateSince = Date.now();
  }

  /** Hands the span watched since the last call to the gathering. */
  report(): void {
    if (this.watchedFrom === null || this.watchedUntil === null || this.watchedUntil <= this.watchedFrom) return;
    this.gathering.watch({
      source: this.source.id,
      version: this.version,
      from: this.watchedFrom,
      to: this.watchedUntil,
    });
    this.watchedFrom = this.watchedUntil;
  }

  get summary(): SourceState {
    const now = performance.now();
    const seconds = (now - this.rates.at) / 1000;
    if (seconds >= 0.9) {
      const smooth = (old: number, count: number): number =>
        old === 0 ? count / seconds : 0.6 * old + (0.4 * count) / seconds;
      this.rates = {
        at: now,
        values: smooth(this.rates.values, this.readCount),
        kept: smooth(this.rates.kept, this.keptCount),
      };
      this.readCount = 0;
      this.keptCount = 0;
    }
    const away = this.state !== 'watching';
    return {
      source: this.source.id,
      state: this.state,
      since: this.stateSince,
      sentence: away ? (this.outage?.sentence ?? 'Connecting for the first time.') : '',
      code: away ? (this.outage?.code ?? null) : null,
      valuesPerSecond: away ? 0 : round(this.rates.values),
      keptPerSecond: away ? 0 : round(this.rates.kept),
      timing: Object.fromEntries(this.groups.map(({ interval, timing }) => [`${interval} ms`, timing.summary])),
      clockSkewMilliseconds: null,
    };
  }

  /** Ends watching for good; says so in the archive, that nobody takes the silence for calm. */
  stop(sentence: string): void {
    if (this.retry) clearTimeout(this.retry);
    this.report();
    if (!this.outage)
      this.openOutage(
        'collector',
        sentence,
        null,
        Status.BadOutOfService,
        Math.max(this.nowMicros(), (this.watchedUntil ?? 0) + 1),
      );
    this.stopped = true;
    this.forgetClock();
    for (const group of this.groups) group.pace?.stop();
    this.driver.close();
  }
}

const round = (value: number): number => Math.round(value * 10) / 10;
