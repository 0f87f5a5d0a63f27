/** The pool of reading threads as the server's own thread sees it. */
import { availableParallelism } from 'node:os';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Chunk } from './formats/table.ts';
import { CANNOT_BE_CUT, type AnyRequest } from './requests.ts';
import { Lane, badRequest, type LaneLimits, type ThreadSettings } from '../../ground/index.ts';
import type { ReadMessage, ReadTask, ReadingSettings } from './thread.ts';
import { weightOf, type Weight } from './weight.ts';

/** Readings that one thread keeps going at a time, each with a connection: a slow download does not hold up the others. */
const READINGS_PER_THREAD = 6;
/** On however many cores: each thread has connections, and the database has not many. */
const MOST_THREADS = 3;

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

/** How a reading went. */
export interface ReadingDone {
  readonly kind: string;
  readonly weight: Weight;
  /** Refused: too many read; left: whoever asked did not wait for the end. */
  readonly outcome: 'done' | 'failed' | 'left' | 'refused';
  readonly seconds: number;
}

/** A pool for one weight of readings. */
interface Way {
  readonly lane: Lane;
  readonly pool: Piscina<ReadTask, void>;
}

/**
 * Threads that compute answers: small readings in some, large ones in another, so that nobody who looks waits for those
 * who carry away. The system runs them after whatever writes.
 */
export class ReadingPool {
  private readonly ways: Readonly<Record<Weight, Way>>;
  private readonly listeners: ((done: ReadingDone) => void)[] = [];

  constructor(program: string, settings: ThreadSettings) {
    const looking = Math.min(MOST_THREADS, Math.max(1, availableParallelism() - 1));
    const way = (name: string, threads: number, readings: number, niceness: number, limits: LaneLimits): Way => ({
      lane: new Lane(name, limits),
      pool: new Piscina({
        filename: program,
        minThreads: threads,
        maxThreads: threads,
        concurrentTasksPerWorker: readings,
        workerData: { ...settings, connections: readings, niceness } satisfies ReadingSettings,
        // An idle thread goes on listening to its database connections, instead of sleeping until the next task.
        atomics: 'disabled',
      }),
    });
    this.ways = {
      small: way('readings', looking, READINGS_PER_THREAD, 5, { most: 8 * looking, ofOne: 40, patience: 150 }),
      large: way('large readings', 1, READINGS_PER_THREAD, 10, { most: READINGS_PER_THREAD, ofOne: 3, patience: 1000 }),
    };
  }

  /** Calls back with every reading when it is over. */
  listen(listener: (done: ReadingDone) => void): void {
    this.listeners.push(listener);
  }

  /** How many readings of a weight are under way. */
  inUse(weight: Weight): number {
    return this.ways[weight].lane.inUse;
  }

  /**
   * The answer to a request, chunk by chunk as it is taken. Leaving the iteration early, or the signal, ends the
   * reading.
   * @param visitor who asks: nobody takes all places.
   * @throws Error as the reading threw it, with its code; AbortError by the signal; ProblemError 503 where too many read.
   */
  async *read(request: AnyRequest, visitor: string, signal: AbortSignal): AsyncGenerator<Chunk> {
    const weight = weightOf(request);
    const { lane, pool } = this.ways[weight];
    const started = performance.now();
    let outcome: ReadingDone['outcome'] = 'refused';
    const over = (): void => {
      const done = { kind: request.kind, weight, outcome, seconds: (performance.now() - started) / 1000 };
      for (const listener of this.listeners) listener(done);
    };
    let leave: () => void;
    try {
      leave = await lane.enter(visitor);
    } catch (error) {
      over();
      throw error;
    }
    outcome = 'left';
    const { port1: here, port2: there } = new MessageChannel();
    try {
      const running = pool.run({ port: there, request }, { transferList: [there] });
      const ask = askFor(here, running, signal);
      for (;;) {
        const message = await ask();
        if ('end' in message) {
          outcome = 'done';
          return;
        }
        if ('failure' in message) {
          outcome = 'failed';
          const { message: sentence, code } = message.failure;
          if (code === CANNOT_BE_CUT) throw badRequest(sentence, code);
          throw Object.assign(new Error(sentence), { code });
        }
        yield message.chunk;
      }
    } finally {
      here.close();
      leave();
      over();
    }
  }

  /** Ends the threads; readings on their way fail. */
  async close(): Promise<void> {
    await Promise.all(Object.values(this.ways).map(({ pool }) => pool.destroy()));
  }
}
