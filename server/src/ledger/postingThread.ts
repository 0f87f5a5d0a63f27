/** The posting thread as the server's own thread sees it. */
import { Worker } from 'node:worker_threads';
import type { ThreadSettings } from '../threads.ts';
import type { PostingOrder, PostingReport } from './postingMain.ts';

interface Expectation {
  readonly resolve: (result: number) => void;
  readonly reject: (error: Error) => void;
}

export class PostingThread {
  private readonly worker: Worker;
  private readonly expected = new Map<number, Expectation>();
  private orders = 0;
  /** Sentence about the last failure; null while all is well. */
  failure: string | null = null;

  constructor(program: string, settings: ThreadSettings) {
    this.worker = new Worker(program, { workerData: settings });
    this.worker.on('message', (report: PostingReport) => this.hear(report));
    this.worker.on('error', (error) => this.fail(error));
    this.worker.on('exit', () => this.fail(new Error('The posting thread has ended.')));
  }

  private fail(error: Error): void {
    this.failure = error.message;
    for (const { reject } of this.expected.values()) reject(error);
    this.expected.clear();
  }

  private hear(report: PostingReport): void {
    if ('failure' in report) {
      this.failure = report.failure;
      return;
    }
    const expectation = this.expected.get(report.number);
    this.expected.delete(report.number);
    if ('error' in report) expectation?.reject(new Error(report.error));
    else expectation?.resolve(report.result);
  }

  private order(order: PostingOrder['order']): Promise<number> {
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
