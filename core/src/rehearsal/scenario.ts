/** What a rehearsal is played with: sources as they are configured, their collector, and a script of faults. Seconds, from the start of the script. */

export const REHEARSED_FAULTS = [
  'line cut',
  'device off',
  'memory lost',
  'collector off',
  'server away',
  'disk full',
] as const;
export type RehearsedFaultKind = (typeof REHEARSED_FAULTS)[number];

/** Faults that are one source's; the others are the collector's. */
export const FAULTS_OF_SOURCES: ReadonlySet<RehearsedFaultKind> = new Set(['line cut', 'device off', 'memory lost']);

export interface RehearsedFault {
  readonly kind: RehearsedFaultKind;
  /** Position of the source; null: every one, or the collector. */
  readonly source: number | null;
  readonly at: number;
  /** What is lost at once, such as a memory, lasts no time. */
  readonly lasts: number;
}

export interface RehearsedSource {
  readonly name: string;
  /** What is kept of it. */
  readonly valuesPerSecond: number;
  /** Values that the device remembers by itself; null: none. */
  readonly remembers: number | null;
  /** What it writes into that memory. */
  readonly remembersPerSecond: number;
  readonly mode: 'by itself' | 'on demand' | 'off';
  readonly valuesPerCall: number;
  readonly callsPerSecond: number;
  readonly newestFirst: boolean;
  /** Whether another collector stands ready to read it. */
  readonly standby: boolean;
}

export interface RehearsedCollector {
  /** Room for its spool; null: not known, taken for enough. */
  readonly spoolBytes: number | null;
  readonly bytesPerValue: number;
  /** Values that it holds in memory while the spool cannot be written. */
  readonly heldInMemory: number;
  /** What it delivers when it catches up. */
  readonly deliversPerSecond: number;
}

export interface Scenario {
  readonly sources: readonly RehearsedSource[];
  readonly collector: RehearsedCollector;
  readonly faults: readonly RehearsedFault[];
}

/** What became of a stretch that was not recorded as it happened. */
export interface Fate {
  readonly from: number;
  readonly to: number;
  readonly fate: 'recovered' | 'lost' | 'nothing to lose';
  readonly why: FateReason;
}

export const FATE_REASONS = [
  'fetched',
  'no memory',
  'overwritten',
  'memory lost',
  'not asked for',
  'no room',
  'device off',
] as const;
export type FateReason = (typeof FATE_REASONS)[number];

export interface RehearsedOutcome {
  readonly fates: readonly Fate[];
  /** When nothing is left to be fetched; null: at once, or nothing was. */
  readonly caughtUpAt: number | null;
}

export interface Rehearsed {
  /** For each source. */
  readonly outcomes: readonly RehearsedOutcome[];
  /** The most that waited on the spool, in bytes, and when it was delivered again; null: it never waited. */
  readonly spoolPeak: number;
  readonly deliveredAt: number | null;
  /** How long the script was played, until all was over. */
  readonly until: number;
}
