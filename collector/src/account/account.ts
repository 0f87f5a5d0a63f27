/** What a collector knows of itself at a moment: told to the server, and archived where its figures are kept as tags. */
import type { CollectorReport } from '@wide-ledger/contract';

/** How the server stood when it last answered. */
export interface ServerContact {
  /** When, in milliseconds by the counter that nobody sets (`performance.now`). */
  readonly at: number;
  /** Its clock minus this machine's, in milliseconds; null where it does not tell. */
  readonly clock: number | null;
  /** Free bytes where the archive is; null where that is not known. */
  readonly archiveFreeBytes: number | null;
}

export interface Account {
  readonly report: CollectorReport;
  /** Null before the server answered for the first time. */
  readonly server: ServerContact | null;
  /** Names of the sources that are read, by their numbers; without itself. */
  readonly names: ReadonlyMap<number, string>;
}

/**
 * How the server's clock stands: it was read somewhere between asking and the answer, most likely in the middle.
 * @param asked when, by this machine's clock, in milliseconds. @param took milliseconds until the answer.
 */
export const clockOf = (server: number, asked: number, took: number): number => server - (asked + took / 2);
