/** The posting thread as the server's own thread sees it. */
import { Worker } from 'node:worker_threads';
import type { ThreadSettings } from '../../ground/index.ts';
import type { PostingOrder, PostingReport } from './postingMain.ts';

interface Expectation {
  readonly resolve: (result: number) => void;
  readonly reject: (error: Error) => void;
}

/** Posting within this time is usual. */
const LATE_MILLISECONDS = 30_000;

const ENDED = 'The posting thread has ended.';

/** Posting in a thread of its own, so that it never holds up the server; one that ends is told as a failure. */
export class PostingThread {
  private readonly worker: Worker;
  private readonly expected = new Map<number, Expectation>();
  private orders = 0;
  private ended = false;
  /** Sentence about the last failure; null while all is well. */
  failure: string | null = null;
  private waited = 0;
  private heardAt = performance.now();

  constructor(program: string, settings: ThreadSettings) {
    this.worker = new Worker(program, { workerData: settings });
    this.worker.on('message', (report: PostingReport) => this.hear(report));
    this.worker.on('error', (error) => this.fail(error));
    this.worker.on('exit', () => {
      this.ended = true;
      this.fail(new Error(ENDED));
    });
  }

  private fail(error: Error): void {
    this.failure = error.message;
    for (const { reject } of this.expected.values()) reject(error);
    this.expected.clear();
  }

  private hear(report: PostingReport): void {
    if ('failure' in report) {
      this.failure = report.failure;
      this.waited = report.waited;
      this.heardAt = performance.now();
      return;
    }
    const expectation = this.expected.get(report.number);
    this.expected.delete(report.number);
    if ('error' in report) expectation?.reject(new Error(report.error));
    else expectation?.resolve(report.result);
  }

  /**
   * What keeps posting from going on, as a sentence; null while all is well. An entry is posted within seconds: one that
   * waits for longer, or a thread that says nothing, is a failure even where nothing reports one.
   */
  get trouble(): string | null {
    if (this.failure !== null) return this.failure;
    if (performance.now() - this.heardAt > LATE_MILLISECONDS) return 'The posting thread does not answer.';
    if (this.waited <= LATE_MILLISECONDS) return null;
    const seconds = Math.round(this.waited / 1000);
    return `The oldest entry has waited for ${seconds} s: an entry that was begun before it is not finished, or posting cannot keep up.`;
  }

  private order(order: PostingOrder['order']): Promise<number> {
    // Nobody would ever answer.
    if (this.ended) return Promise.reject(new Error(ENDED));
    const number = ++this.orders;
    return new Promise((resolve, reject) => {
      this.expected.set(number, { resolve, reject });
      this.worker.postMessage({ number, order } satisfies PostingOrder);
    });
  }

  /** Posts everything that waits, now. */
  async postAll(): Promise<void> {
    await this.order('postAll');
  }

  /** Posts one batch for each store. @returns how many entries that were. */
  postBatch(): Promise<number> {
    return this.order('postBatch');
  }

  async stop(): Promise<void> {
    await this.order('stop').catch(() => undefined);
    await this.worker.terminate();
  }
}
