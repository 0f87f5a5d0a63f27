/** What a collector knows of itself at a moment: told to the server, and archived where its figures are kept as tags. */
import type { CollectorReport, LinkAccount } from '@wide-ledger/contract';

/** How the server stood when it last answered. */
export interface ServerContact {
  /** When, in milliseconds by the counter that nobody sets (`performance.now`). */
  readonly at: number;
  /** Its clock minus this machine's, in milliseconds; null where it does not tell. */
  readonly clock: number | null;
  /** Free bytes where the archive is; null where that is not known. */
  readonly archiveFreeBytes: number | null;
  /** How the links of the site stand. */
  readonly links: readonly LinkAccount[];
}

export interface Account {
  readonly report: CollectorReport;
  /** Null before the server answered for the first time. */
  readonly server: ServerContact | null;
  /** Names of the sources that are read, by their numbers; without itself. */
  readonly names: ReadonlyMap<number, string>;
}
