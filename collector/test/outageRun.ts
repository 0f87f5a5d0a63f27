/** A collector's process in quick time, that can be stopped and killed, and what is on its disk when it is. */
import type { ConfiguredSource } from '@wide-ledger/contract';
import {
  Clock,
  Gathering,
  Notebook,
  SourceWatcher,
  type Gathered,
  type Kind,
  type Notes,
  type Session,
  type WatcherNotes,
} from '../src/index.ts';
import { ALONE } from './alone.ts';
import type { Archive } from './outageArchive.ts';
import { Subscriber, TAGS, away, type PlantDevice } from './outagePlant.ts';
import type { QuickTime } from './quickTime.ts';
import { opcUaTo, tagAt } from './tags.ts';

const FLUSH_MILLISECONDS = 250;

/** As the spool has it: what a next run reads. */
const written = (notes: Notes): WatcherNotes => JSON.parse(JSON.stringify(notes[1])) as WatcherNotes;

/** One run of the collector's process, until it ends or is killed. */
export class Run {
  private alive = true;
  private readonly gathering = new Gathering();
  private readonly watcher: SourceWatcher;
  private readonly notebook: Notebook;
  private readonly flushing: NodeJS.Timeout;
  private readonly subscribers: Subscriber[] = [];

  constructor(
    time: QuickTime,
    private readonly device: PlantDevice,
    private readonly archive: Archive,
    settings: Partial<ReturnType<typeof opcUaTo>>,
  ) {
    const source: ConfiguredSource = {
      id: 1,
      name: 'S',
      kind: 'opc-ua',
      connection: opcUaTo(4840, { valuesPerCall: 10, callsPerSecond: 20, ...settings }),
      tags: TAGS.map((id) => tagAt(id, { node: `i=${id}`, element: '' })),
    };
    const clock = new Clock(time.wall, time.counter);
    const session = (): Session => {
      const subscriber = new Subscriber(device, time);
      this.subscribers.push(subscriber);
      return {
        acquires: 'subscription',
        clockSkew: device.clockError,
        startedAt: device.startedAt,
        follow: (_tags, listener) => Promise.resolve(subscriber.follow(listener)),
        // eslint-disable-next-line @typescript-eslint/require-await -- a device on a line is asked and waited for
        history: async function* (request) {
          yield* device.history(request);
        },
        close: () => device.drop(subscriber),
      };
    };
    const kind: Kind = {
      check: () => Promise.reject(new Error('not asked for')),
      open: () => (this.alive && device.reachable ? Promise.resolve(session()) : Promise.reject(away())),
    };
    this.notebook = new Notebook(archive.notes ? { 1: archive.notes } : {}, () => [[1, this.watcher]]);
    const keepFetched = (fetched: Gathered, commit: () => () => void): Promise<void> => {
      if (!this.alive) return new Promise(() => undefined);
      if (archive.full) return Promise.reject(new Error('no space left on device'));
      commit();
      archive.take(fetched);
      archive.notes = written(this.notebook.withFetched());
      return Promise.resolve();
    };
    this.watcher = new SourceWatcher(
      source,
      1,
      kind,
      ALONE,
      { lease: { gathering: this.gathering, isMine: true }, keepFetched },
      archive.notes,
      clock,
    );
    this.watcher.open();
    this.flushing = setInterval(() => {
      clock.look();
      this.watcher.report();
      this.flush();
    }, FLUSH_MILLISECONDS);
  }

  private flush(): void {
    if (this.archive.full) return;
    if (this.archive.overflown) {
      this.archive.overflown = false;
      const { watches } = this.gathering.letGo('The disk is full.', () => this.watcher.isRecoverable);
      for (const { from, to } of watches) this.watcher.letGo(from, to);
    }
    this.archive.take(this.gathering.take());
    this.archive.notes = written(this.notebook.handOver().notes);
  }

  /** Stretches that are still to be fetched. */
  get holes(): number {
    return this.watcher.notes.holes!.length;
  }

  /** Ends without notice: what was in memory is gone, and nobody hears the device. */
  kill(): void {
    this.alive = false;
    clearInterval(this.flushing);
    for (const subscriber of this.subscribers) this.device.drop(subscriber);
    this.watcher.stop('Killed.');
  }

  /** Ends in peace. */
  stop(): void {
    this.watcher.stop('The collector was stopped.');
    this.flush();
    this.kill();
  }
}
