/** The pool of reading threads as the server's own thread sees it. */
import { availableParallelism } from 'node:os';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Chunk } from './formats/table.ts';
import type { ReadRequest } from './requests.ts';
import type { ThreadSettings } from '../../ground/index.ts';
import type { ReadMessage, ReadTask } from './thread.ts';

/** Readings that one thread keeps going at a time: a slow download does not hold up the others. */
const READINGS_PER_THREAD = 8;

/**
 * Asks a reading for its next message. No promise outlives its message: one that every next answer raced against would
 * hold on to all of them, a year of values, until the reading ends.
 */
function askFor(port: MessagePort, running: Promise<void>, signal: AbortSignal): () => Promise<ReadMessage> {
  let expected: { resolve: (message: ReadMessage) => void; reject: (error: Error) => void } | null = null;
  let failure: Error | null = null;
  const fail = (error: unknown): void => {
    failure = error as Error;
    expected?.reject(failure);
  };
  port.on('message', (message: ReadMessage) => expected?.resolve(message));
  running.catch(fail);
  signal.addEventListener('abort', () => fail(signal.reason), { once: true });
  if (signal.aborted) fail(signal.reason);
  return () =>
    new Promise((resolve, reject) => {
      expected = { resolve, reject };
      if (failure) reject(failure);
      else port.postMessage('more');
    });
}

/** Threads that compute answers: a few readings at a time in each, the rest wait. */
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
    const ask = askFor(here, running, signal);
    try {
      for (;;) {
        const message = await ask();
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

  /** Ends the threads; readings on their way fail. */
  async close(): Promise<void> {
    await this.pool.destroy();
  }
}
