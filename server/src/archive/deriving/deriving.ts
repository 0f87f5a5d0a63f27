/** Deriving as the server's own thread sees it: what the thread computes is written here, and so heard by whoever listens. */
import { Worker } from 'node:worker_threads';
import type { Pool } from 'pg';
import type { Frame, Span } from '@wide-ledger/core';
import type { Catalogue } from '../../configuration/index.ts';
import { nowMicros, type ThreadSettings } from '../../ground/index.ts';
import { admitFrame } from '../journal/admission.ts';
import type { Journal } from '../journal/journal.ts';
import { DERIVED_WRITER } from './derivedValues.ts';
import type { DerivingOrder, DerivingReport } from './derivingMain.ts';

/** So often it is looked whether there is anything to derive, while there is not. */
const LOOK_MILLISECONDS = 1000;
/** News that come together are told once. */
const NEWS_MILLISECONDS = 20;
const STOP_MILLISECONDS = 10_000;
const AGAIN = 'Computed again, since what it is computed from has changed.';
const OF_THE_PAST = 'Computed for the past.';

/** A piece of the past that was computed: what has to be written of it, and how many samples were looked at. */
export interface ComputedPiece {
  readonly frame: Frame | null;
  readonly samples: number;
}

interface Expected {
  readonly resolve: (piece: ComputedPiece) => void;
  readonly reject: (error: Error) => void;
}

/** Another server has looked farther meanwhile. */
class Overtaken extends Error {}

export class Deriving {
  private worker: Worker | null = null;
  private readonly looking: NodeJS.Timeout;
  private news: NodeJS.Timeout | null = null;
  private readonly pieces = new Map<number, Expected>();
  private numbers = 0;
  private stopping: (() => void) | null = null;
  /** Sentence about the last failure; null while all is well. */
  trouble: string | null = null;
  /** How long ago the oldest entry was received that has not been looked at, in seconds. */
  lag = 0;

  constructor(
    private readonly program: string,
    private readonly settings: ThreadSettings,
    private readonly catalogue: Catalogue,
    private readonly journal: Journal,
  ) {
    this.looking = setInterval(() => this.beginWhereNeeded(), LOOK_MILLISECONDS).unref();
    journal.listen(() => this.tell());
  }

  /** A thread of its own, as soon as there is anything for it to do. */
  private beginWhereNeeded(): void {
    if (this.worker || !this.catalogue.hasDerivedTags) return;
    this.worker = new Worker(this.program, { workerData: this.settings });
    this.worker.on('message', (report: DerivingReport) => void this.hear(report));
    this.worker.on('error', (error) => (this.trouble = error.message));
    this.worker.on('exit', () => {
      this.worker = null;
      for (const { reject } of this.pieces.values()) reject(new Error('The deriving thread has ended.'));
      this.pieces.clear();
      this.stopping?.();
    });
  }

  /** The number behind which entries of the journal are needed; infinite where nothing is derived. */
  async neededAfter(home: Pool): Promise<number> {
    if (!this.catalogue.hasDerivedTags) return Infinity;
    const { rows } = await home.query<{ entry: number | null }>('SELECT entry FROM derivation');
    return rows[0]?.entry ?? Infinity;
  }

  private order(order: DerivingOrder): void {
    this.worker?.postMessage(order);
  }

  private tell(): void {
    this.news ??= setTimeout(() => {
      this.news = null;
      this.order({ order: 'news' });
    }, NEWS_MILLISECONDS).unref();
  }

  private async hear(report: DerivingReport): Promise<void> {
    switch (report.says) {
      case 'write': {
        const failure = await this.write(report).then(
          () => null,
          (error: unknown) => (error as Error).message,
        );
        this.order({ order: 'written', number: report.number, failure });
        break;
      }
      case 'piece':
        this.pieces.get(report.number)?.resolve(report);
        this.pieces.delete(report.number);
        break;
      case 'failed':
        this.pieces.get(report.number)?.reject(new Error(report.failure));
        this.pieces.delete(report.number);
        break;
      case 'standing':
        this.trouble = report.failure;
        this.lag = report.lag;
        break;
      case 'stopped':
        break;
    }
  }

  /** Values and how far the journal is looked through, in one transaction: a restart finds both, or neither. */
  private async write({ entries, looked }: DerivingReport & { says: 'write' }): Promise<void> {
    const ready = entries.flatMap(({ frame, again }) =>
      this.admitted(frame, DERIVED_WRITER, again ? AGAIN : undefined),
    );
    await this.journal.appendAll(ready, async (client) => {
      if (!looked) return;
      const { rowCount } = await client.query('UPDATE derivation SET entry = $2 WHERE entry = $1', [
        looked.from,
        looked.to,
      ]);
      if (rowCount !== 1) throw new Overtaken('Another server has derived meanwhile.');
    });
  }

  private admitted(
    frame: Frame,
    writer: string,
    reason: string | undefined,
  ): Parameters<Journal['appendAll']>[0][number][] {
    const { frames, refused } = admitFrame(frame, this.catalogue.tagById, this.catalogue.keepsSince, nowMicros(), true);
    const common = { writer, sequence: null, origin: 'derived' as const, watches: [], outages: [] };
    const parts: readonly (Frame | null)[] = frames.length > 0 ? frames : [null];
    return parts.map((part, i) => ({
      ...common,
      frame: part,
      refused: i === 0 ? refused : [],
      ...(reason === undefined ? {} : { reason }),
    }));
  }

  /** Computes a piece of the past of a derived tag. @param window [from, to), microseconds. @throws Error with a sentence */
  past(tag: number, window: Span): Promise<ComputedPiece> {
    if (!this.worker) return Promise.reject(new Error('Nothing is derived here yet. Try again in a moment.'));
    const number = ++this.numbers;
    return new Promise((resolve, reject) => {
      this.pieces.set(number, { resolve, reject });
      this.order({ order: 'past', number, tag, window });
    });
  }

  /** What has to be written of a piece of the past. What is computed of it in its turn sees it go by. */
  pastEntries(frame: Frame): Parameters<Journal['appendAll']>[0][number][] {
    return this.admitted(frame, `${DERIVED_WRITER} of the past`, OF_THE_PAST);
  }

  async stop(): Promise<void> {
    clearInterval(this.looking);
    if (this.news) clearTimeout(this.news);
    const { worker } = this;
    if (!worker) return;
    const stopped = new Promise<void>((resolve) => (this.stopping = resolve));
    this.order({ order: 'stop' });
    const late = setTimeout(() => void worker.terminate(), STOP_MILLISECONDS);
    await stopped;
    clearTimeout(late);
  }
}
