/** The pool of reading threads as the server's own thread sees it. */
import { once } from 'node:events';
import { availableParallelism } from 'node:os';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Chunk } from './formats/table.ts';
import type { ReadRequest } from './requests.ts';
import type { ThreadSettings } from '../threads.ts';
import type { ReadMessage, ReadTask } from './thread.ts';

/** Readings that one thread keeps going at a time: a slow download does not hold up the others. */
const READINGS_PER_THREAD = 8;

export class ReadingPool {
  private readonly pool: Piscina<ReadTask, void>;

  constructor(program: string, settings: ThreadSettings) {
    const threads = Math.max(2, availableParallelism() - 1);
    this.pool = new Piscina({
      filename: program,
      minThreads: threads,
      maxThreads: threads,
      concurrentTasksPerWorker: READINGS_PER_THREAD,
      workerData: settings,
      // An idle thread goes on listening to its database connections, instead of sleeping until the next task.
      atomics: 'disabled',
    });
  }

  /**
   * The answer to a request, chunk by chunk as it is taken. Leaving the iteration early, or the signal, ends the
   * reading.
   * @throws Error as the reading threw it, with its code; AbortError by the signal.
   */
  async *read(request: ReadRequest, signal: AbortSignal): AsyncGenerator<Chunk> {
    const { port1: here, port2: there } = new MessageChannel();
    const running = this.pool.run({ port: there, request }, { transferList: [there] });
    const failed = running.then(
      () => new Promise<never>(() => undefined),
      (error: unknown) => Promise.reject(error as Error),
    );
    failed.catch(() => undefined);
    try {
      for (;;) {
        here.postMessage('more');
        const [message] = (await Promise.race([once(here, 'message', { signal }), failed])) as [ReadMessage];
        if ('end' in message) return;
        if ('failure' in message) {
          throw Object.assign(new Error(message.failure.message), { code: message.failure.code });
        }
        yield message.chunk;
      }
    } finally {
      here.close();
    }
  }

  async close(): Promise<void> {
    await this.pool.destroy();
  }
}
