/**
 * What a source's libraries throw where nobody can catch it (in a socket's callback, in a timer, in a promise that nobody
 * waits for) ends that source's session, and nothing else. Work is run for somebody who answers for it; Node.js keeps who
 * that is across callbacks, and tells it when an error reaches the top.
 */
import { AsyncLocalStorage } from 'node:async_hooks';

/** Who answers for an error that nobody caught. */
export interface Answerable {
  /** A source's number; null where it is a question that somebody asked. */
  readonly source: number | null;
  fault(error: Error): void;
}

const running = new AsyncLocalStorage<Answerable>();

/** Runs work, and all that follows from it, for somebody who answers for its errors. */
export const runFor = <Result>(answerable: Answerable, work: () => Result): Result => running.run(answerable, work);

/** Faults of one source in this time that are borne; after that the process starts again without it. Milliseconds. */
const WITHIN = 60_000;
const MOST_FAULTS = 20;

/** What to do about errors that reached the top. */
export interface LastResort {
  /** A fault that somebody answers for: told, and survived. */
  borne(error: Error, source: number | null): void;
  /** One that nobody answers for, or one too many of a source: the process is not to be trusted any more. */
  fatal(error: Error, source: number | null): void;
}

/** Decides about errors that reached the top of the process. @param now milliseconds, never set */
export class Faults {
  private readonly recent = new Map<number, number[]>();

  constructor(
    private readonly lastResort: LastResort,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** An error that nobody caught, in whatever was running. */
  uncaught(thrown: unknown): void {
    const error = thrown instanceof Error ? thrown : new Error(String(thrown));
    const answerable = running.getStore();
    if (!answerable) return this.lastResort.fatal(error, null);
    const { source } = answerable;
    if (source !== null && this.isTooOften(source)) return this.lastResort.fatal(error, source);
    try {
      answerable.fault(error);
      this.lastResort.borne(error, source);
    } catch (second) {
      this.lastResort.fatal(second as Error, source);
    }
  }

  private isTooOften(source: number): boolean {
    const now = this.now();
    const times = [...(this.recent.get(source) ?? []).filter((at) => now - at < WITHIN), now];
    this.recent.set(source, times);
    return times.length > MOST_FAULTS;
  }
}
