/** Watches one source: reads its tags on their beats, keeps what is worth keeping, and knows when it was away. */
import type { ConfiguredSource, ConfiguredTag, OutageSpan, SourceState } from '@wide-ledger/contract';
import { SECOND, Status, deadbandWidth, isKept, type KeptSample } from '@wide-ledger/core';
import { SourceAway, type Driver, type MakeDriver, type Reading } from '../driver/driver.ts';
import type { Gathering } from './gathering.ts';
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
  pace: Pace | null;
  busy: boolean;
}

const nowMicros = (): number => Math.round((performance.timeOrigin + performance.now()) * 1000);

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

  constructor(
    private source: ConfiguredSource,
    private version: number,
    makeDriver: MakeDriver,
    private readonly gathering: Gathering,
    notes: SourceNotes | null,
  ) {
    this.driver = makeDriver(source);
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
      const { intervalMilliseconds: interval, aligned } = tag.collection;
      const key = `${interval} ${aligned}`;
      const timing = old.find((one) => one.interval === interval && one.aligned === aligned)?.timing ?? new Timing();
      const group = groups.get(key) ?? { interval, aligned, tags: [], timing, pace: null, busy: false };
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
      if (first) await this.driver.read(first.tags);
      this.enter('watching');
      this.startPaces();
    } catch (error) {
      this.lose(error);
    }
  }

  private startPaces(): void {
    for (const group of this.groups)
      group.pace ??= new Pace(group.interval, group.aligned, (due) => void this.scan(group, due));
  }

  private async scan(group: Group, due: number): Promise<void> {
    if (group.busy || this.state !== 'watching') {
      group.timing.missed++;
      return;
    }
    group.busy = true;
    const started = performance.timeOrigin + performance.now();
    try {
      const readings = await this.driver.read(group.tags);
      const ended = nowMicros();
      group.timing.note(started - due, ended / 1000 - started);
      if (this.stopped || this.state !== 'watching') return;
      this.noteWatched(ended);
      const stamp = group.aligned ? Math.round(due * 1000) : Math.round(started * 1000);
      for (const reading of readings) this.take(reading, stamp);
    } catch (error) {
      if (this.state === 'watching') this.lose(error, Math.round(due * 1000));
    } finally {
      group.busy = false;
    }
  }

  private noteWatched(until: number): void {
    if (this.outage) {
      this.gathering.outage({ ...this.outage, to: until });
      this.outage = null;
      this.watchedUntil = null;
    }
    this.watchedFrom ??= this.watchedUntil ?? until;
    this.watchedUntil = until;
  }

  private take(reading: Reading, stamp: number): void {
    const tag = this.byId.get(reading.tag);
    if (!tag) return;
    this.readCount++;
    this.noteFault(reading, stamp);
    const sample = { time: reading.sourceTime ?? stamp, value: reading.value, status: reading.status };
    const { deadband, longestSilenceSeconds } = tag.collection;
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
      };
      this.tagOutages.set(tag, outage);
      this.gathering.outage(outage);
    } else if (!fault && open) {
      this.tagOutages.delete(tag);
      this.gathering.outage({ ...open, to: stamp });
    }
  }

  private lose(error: unknown, at = nowMicros()): void {
    if (this.stopped) return;
    const away =
      error instanceof SourceAway
        ? error
        : new SourceAway(`Reading failed: ${(error as Error).message}`, 'UNEXPECTED', Status.BadCommunicationError);
    this.report();
    // The next watch starts where watching starts again, not where it ended.
    this.watchedFrom = null;
    for (const group of this.groups) {
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
    };
    this.gathering.outage(this.outage);
    for (const tag of this.byId.keys()) {
      this.gathering.sample(tag, markAt, NaN, status);
      this.lastKept.delete(tag);
    }
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
        Math.max(nowMicros(), (this.watchedUntil ?? 0) + 1),
      );
    this.stopped = true;
    for (const group of this.groups) group.pace?.stop();
    this.driver.close();
  }
}

const round = (value: number): number => Math.round(value * 10) / 10;
