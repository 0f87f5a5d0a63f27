/** A collector, put together: configuration, watchers, spool, delivery, and what it says of itself. */
import {
  type CollectorConfiguration,
  type CollectorOrders,
  type ConfiguredSource,
  type SourceState,
} from '@wide-ledger/contract';
import { Seal, keyFile } from '@wide-ledger/vault';
import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Logger } from 'pino';
import { clockAhead } from '@wide-ledger/core';
import type { Account, ServerContact } from './account/account.ts';
import { Answering } from './answering/answering.ts';
import { withChanges } from './configuration/changes.ts';
import { closeKept, openKept } from './configuration/kept.ts';
import { asConfigured } from './configuration/sources.ts';
import { Delivery } from './delivery/delivery.ts';
import { ServerCalls } from './delivery/serverCalls.ts';
import { Gathering, type Gathered } from './gathering/gathering.ts';
import { kindOf } from './kinds/index.ts';
import { runFor } from './isolation/isolation.ts';
import { takeLastEnd, type LastEnd } from './isolation/lastEnd.ts';
import type { Kind, Surroundings } from './kinds/kind.ts';
import { readableFolders, type Settings } from './settings.ts';
import { Notebook, type Notes } from './source/notebook.ts';
import { SourceWatcher, connectedBy, type Outlet, type WatcherNotes } from './source/sourceWatcher.ts';
import { EntryWriter } from './spool/entryWriter.ts';
import { Spool } from './spool/spool.ts';
import { Leases } from './standby/leases.ts';
import { Clock } from './watching/clock.ts';

/** Samples held in memory while the spool cannot be written. */
const MOST_HELD = 2_000_000;
const FLUSH_MILLISECONDS = 250;
/** For who waits for the disk. */
const SOON_MILLISECONDS = 10;
const REPORT_MILLISECONDS = 1000;
const LAST_REPORT_MILLISECONDS = 1000;
/** The source whose fault ended the collector begins so much later than the others. */
const LAST_MILLISECONDS = 15_000;

/** A whole collector: its sources, its spool, its delivery, and what it reports. */
export class Collector {
  private readonly watchers = new Map<number, SourceWatcher>();
  private readonly gathering = new Gathering();
  private readonly startedAt = Date.now();
  /** What is in force here; null before anything was taken. */
  private inForce: CollectorConfiguration | null = null;
  private timers: NodeJS.Timeout[] = [];
  private flushing: Promise<void> = Promise.resolve();
  private readonly clock = new Clock();
  private readonly leases = new Leases(this.gathering, this.clock.now);
  private readonly writer: EntryWriter;
  private readonly notebook: Notebook;
  private readonly seal: Seal;
  /** Sources of the configuration that this collector cannot read. */
  private readonly strange = new Map<number, SourceState>();
  /** What is wrong with this collector itself, as a sentence; null while all is well. */
  private trouble: string | null = null;
  /** What is to be known of a spool that was restored; null where it was not. */
  private restored: string | null = null;

  private answering: Answering | null = null;
  private server: ServerContact | null = null;
  /** Whether a version is being taken at this moment: one at a time. */
  private following = false;

  /** How it ended last, where that was its own fault. */
  private readonly lastEnd: LastEnd | null;

  private constructor(
    private readonly settings: Settings,
    private readonly calls: ServerCalls,
    private readonly spool: Spool,
    private readonly delivery: Delivery,
    notes: Notes,
    private readonly log: Logger,
  ) {
    this.writer = new EntryWriter(spool, settings.WIDE_LEDGER_COLLECTOR);
    this.notebook = new Notebook(notes, () => this.noted());
    this.lastEnd = takeLastEnd(settings.WIDE_LEDGER_COLLECTOR_DATA);
    this.seal = new Seal(keyFile(settings.WIDE_LEDGER_COLLECTOR_DATA, 'collector.key'));
  }

  /** Opens the spool and starts from the configuration kept from last time, whether or not the server is there. */
  static async start(settings: Settings, log: Logger): Promise<Collector> {
    mkdirSync(settings.WIDE_LEDGER_COLLECTOR_DATA, { recursive: true });
    const spool = await Spool.open(join(settings.WIDE_LEDGER_COLLECTOR_DATA, 'spool'));
    const calls = new ServerCalls(
      settings.WIDE_LEDGER_SERVER,
      settings.WIDE_LEDGER_KEY,
      settings.WIDE_LEDGER_COLLECTOR,
    );
    const delivery = new Delivery(spool, calls, log);
    const collector = new Collector(settings, calls, spool, delivery, (await spool.notes<Notes>()) ?? {}, log);
    collector.applyKept();
    delivery.start();
    collector.timers = [
      setInterval(() => void collector.flush(), FLUSH_MILLISECONDS),
      setInterval(() => void collector.report(), REPORT_MILLISECONDS),
    ];
    void collector.report();
    void collector.lookAtPosition();
    collector.answering = new Answering(calls, collector.around, (source) => collector.watchers.get(source), log);
    collector.answering.start();
    return collector;
  }

  /** What kinds of sources find around them here. */
  private get around(): Surroundings {
    return {
      folder: this.settings.WIDE_LEDGER_COLLECTOR_DATA,
      readable: readableFolders(this.settings),
      secret: (id) => (id === null ? null : (this.inForce?.secrets[id] ?? null)),
      account: () => this.account(),
    };
  }

  private get keptFile(): string {
    return join(this.settings.WIDE_LEDGER_COLLECTOR_DATA, 'configuration.json');
  }

  private applyKept(): void {
    if (!existsSync(this.keptFile)) return;
    const kept = openKept(readFileSync(this.keptFile, 'utf8'), this.seal);
    if (kept) this.apply(kept);
    else this.log.warn('the kept configuration cannot be read, or is of another version; waiting for the server');
  }

  private apply(configuration: CollectorConfiguration): void {
    this.inForce = configuration;
    this.strange.clear();
    for (const given of configuration.sources) {
      const kind = kindOf(given);
      const source = asConfigured(given);
      // The others go on: a newer server knows kinds that this collector does not.
      if (!kind || !source) {
        this.strange.set(given.id, strangeState(given));
        this.log.error({ source: given.name, kind: given.kind }, 'this collector cannot read a source');
        continue;
      }
      const known = this.watchers.get(source.id);
      if (known?.connectedBy === connectedBy(source)) {
        this.runFor(source.id, () => known.update(source, configuration.version));
        continue;
      }
      known?.stop('The source was given another connection.');
      const notes = known?.notes ?? this.notebook.of(source.id) ?? null;
      this.open(source, configuration.version, kind, notes);
    }
    for (const [id, watcher] of this.watchers) {
      if (configuration.sources.some((source) => source.id === id) && !this.strange.has(id)) continue;
      watcher.stop('The source was taken out of the configuration.');
      this.leases.end(id, watcher);
      this.watchers.delete(id);
    }
    this.log.info({ version: configuration.version, sources: configuration.sources.length }, 'configuration in force');
  }

  /** Begins to watch a source; the one whose fault ended the collector last, when the others are at work. */
  private open(source: ConfiguredSource, version: number, kind: Kind, notes: WatcherNotes | null): void {
    const outlet = this.outletOf(source.id, notes);
    const { lastEnd } = this;
    const watcher = new SourceWatcher(source, version, kind, this.around, outlet, notes, this.clock, lastEnd?.reason);
    this.watchers.set(source.id, watcher);
    const begin = (): void => this.runFor(source.id, () => watcher.open());
    if (lastEnd?.source === source.id) setTimeout(begin, LAST_MILLISECONDS).unref();
    else begin();
  }

  /** Runs work of a source: what goes wrong in it, wherever that comes to light, is that source's fault. */
  private runFor<Result>(source: number, work: () => Result): Result {
    return runFor({ source, fault: (error) => this.watchers.get(source)?.fault(error) }, work);
  }

  private outletOf(source: number, notes: WatcherNotes | null): Outlet {
    const lease = this.leases.of(source, notes);
    return {
      lease,
      keepFetched: (fetched, commit) => this.keepFetched(fetched, commit),
      kept: (soon) => this.kept(soon),
    };
  }

  /** The notes of each source, of its watches as far as they were handed on. */
  private *noted(): Generator<readonly [number, Pick<SourceWatcher, 'notes' | 'recoveryNotes'>]> {
    for (const [id, { notes, recoveryNotes }] of this.watchers)
      yield [id, { notes: this.leases.noted(id, notes), recoveryNotes }];
  }

  /** Writes what was gathered to the spool; one at a time, in order. What cannot be written is held, and tried again. */
  private flush(): Promise<void> {
    this.flushing = this.flushing.then(async () => {
      this.clock.look();
      for (const [id, watcher] of this.watchers) this.runFor(id, () => reportOf(watcher));
      this.leases.pass(this.watchers);
      if (this.gathering.isEmpty) return;
      const gathered = this.gathering.take();
      const { notes, takeBack } = this.notebook.handOver();
      try {
        await this.writer.write(gathered, notes);
        if (this.trouble !== null) this.log.info('the spool takes entries again');
        this.trouble = null;
      } catch (error) {
        takeBack();
        this.hold(gathered, error as Error);
      }
      this.delivery.wake();
    });
    return this.flushing;
  }

  /** Resolves once all that was told by now is on the spool: with the next writing, or soon. */
  private async kept(soon: boolean): Promise<void> {
    do {
      await wait(soon ? SOON_MILLISECONDS : FLUSH_MILLISECONDS);
      await this.flush();
      // A disk that is full: it is tried again until there is room.
    } while (this.trouble !== null);
  }

  /** Writes what was fetched of a source's past, in order with everything else. */
  private keepFetched(fetched: Gathered, commit: () => () => void): Promise<void> {
    const written = this.flushing.then(() =>
      this.writer.writeFetched(fetched, commit, () => this.notebook.withFetched()),
    );
    this.flushing = written.catch(() => undefined).then(() => this.delivery.wake());
    return written;
  }

  /** Holds what the spool did not take in memory, as long as there is room for it. */
  private hold(gathered: Gathered, error: Error): void {
    const cause = (error as { cause?: Error }).cause?.message ?? error.message;
    const sentence = `The spool of the collector cannot be written: ${cause.replace(/\.?$/, '.')} Make room on its disk.`;
    if (this.trouble !== sentence)
      this.log.error({ error: cause }, 'the spool cannot be written; values are held in memory');
    this.trouble = sentence;
    this.gathering.putBack(gathered);
    if (this.gathering.size <= MOST_HELD) return;
    const recoverable = (source: number): boolean => this.watchers.get(source)?.isRecoverable ?? false;
    const { lost, watches } = this.gathering.letGo(sentence, recoverable);
    for (const { source, from, to } of watches) this.watchers.get(source)?.letGo(from, to);
    this.log.error({ lost }, 'there is no room left for values; they are lost');
  }

  /** Whether the spool is older than what the server has of it: then somebody restored it, and should know. */
  private async lookAtPosition(): Promise<void> {
    const { nameBefore, before } = this.spool;
    if (before.sequence === 0) return;
    const writer = `${this.settings.WIDE_LEDGER_COLLECTOR}/${nameBefore}`;
    const position = await this.calls.position(writer).catch(() => 0);
    if (position <= before.sequence) return;
    this.restored = `The spool was restored from an older copy: the server has ${position - before.sequence} entries that this copy does not know. Nothing is lost or overwritten; what is read from now on is numbered anew.`;
    this.log.warn({ server: position, spool: before.sequence }, 'the spool is older than what the server has of it');
  }

  private async account(): Promise<Account> {
    const sources = [...[...this.watchers.values()].map((watcher) => watcher.summary), ...this.strange.values()];
    return {
      report: {
        name: this.settings.WIDE_LEDGER_COLLECTOR,
        version: this.inForce?.version ?? null,
        startedAt: this.startedAt,
        spooledEntries: this.spool.entries,
        spooledSamples: this.spool.samples + this.gathering.size,
        putAwayEntries: this.spool.putAwayEntries,
        spoolFreeBytes: await this.spool.freeBytes(),
        spoolBytesPerSample: this.spool.bytesPerSample,
        trouble: this.trouble ?? this.restored,
        valuesPerSecond: Math.round(sources.reduce((sum, source) => sum + source.valuesPerSecond, 0) * 10) / 10,
        sources,
      },
      server: this.server,
      names: new Map(
        this.inForce?.sources.flatMap(({ id, name, kind }) => (kind === 'collector' ? [] : [[id, name] as const])),
      ),
    };
  }

  private async report(): Promise<void> {
    const { report } = await this.account();
    const [asked, counted] = [this.clock.now(), performance.now()];
    try {
      const orders = await this.calls.report(report);
      const at = performance.now();
      this.server = {
        at,
        clock: orders.now === undefined ? null : clockAhead(orders.now, asked, asked + (at - counted)),
        archiveFreeBytes: orders.archiveFreeBytes ?? null,
        links: orders.links,
      };
      await this.follow(orders, counted);
    } catch (error) {
      this.log.debug({ error: (error as Error).message }, 'could not report');
    }
  }

  private async follow({ version, leases }: CollectorOrders, askedAt: number): Promise<void> {
    this.leases.told(leases, this.watchers, askedAt);
    if (version === this.inForce?.version || this.following) return;
    this.following = true;
    await this.takeVersion().finally(() => (this.following = false));
    // Whoever waits for it to run is told at once.
    await this.report();
  }

  private async takeVersion(): Promise<void> {
    const said = await this.calls.configuration(this.inForce);
    if (said.version === this.inForce?.version) return;
    const configuration = 'since' in said ? withChanges(this.inForce!, said) : said;
    const part = `${this.keptFile}.part`;
    // Synced before it takes the old one's place: a kill leaves the old or the new one, never an empty one.
    await writeFile(part, closeKept(configuration, this.seal), { mode: 0o600, flush: true });
    await rename(part, this.keptFile);
    this.apply(configuration);
  }

  /** Stops watching, leaves everything on the spool, and gives delivery a moment to take it over. */
  async stop(): Promise<void> {
    for (const timer of this.timers) clearInterval(timer);
    this.answering?.stop();
    // Whether another one goes on, as it stands now: then nobody need be told that this one ends.
    if (this.leases.areShared) await Promise.race([this.report(), wait(LAST_REPORT_MILLISECONDS)]);
    for (const [id, watcher] of this.watchers) {
      watcher.stop('The collector was stopped.');
      this.leases.end(id, watcher);
    }
    await this.flush();
    for (let waited = 0; waited < 1000 && this.spool.entries > 0; waited += 50) await wait(50);
    await this.delivery.stop();
    await this.spool.close();
  }
}

/** A fault while one source is reported on is that source's, and holds up none of the others. */
function reportOf(watcher: SourceWatcher): void {
  try {
    watcher.report();
  } catch (error) {
    watcher.fault(error as Error);
  }
}

/** What is said of a source that this collector cannot read. */
function strangeState({ id, name, kind }: { id: number; name: string; kind: string }): SourceState {
  const known = kindOf({ kind }) !== null;
  return {
    source: id,
    state: 'away',
    since: Date.now(),
    sentence: known
      ? `This collector does not understand how ${name} is configured. Bring the collector up to the server's version.`
      : `This collector does not know sources of the kind "${kind}". Bring it up to the server's version.`,
    code: known ? 'NOT_UNDERSTOOD' : 'UNKNOWN_KIND',
    valuesPerSecond: 0,
    keptPerSecond: 0,
    timing: {},
    clockSkewMilliseconds: null,
    traffic: null,
    troubles: [],
    facts: [],
    way: null,
    faultyTags: 0,
    recovery: null,
  };
}
