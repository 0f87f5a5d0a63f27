/** What a kind of long work is to the system that runs it. */
import type { JobKind } from '@wide-ledger/contract';
import type { PoolClient } from 'pg';

/** The job was taken by another worker, or ended by hand: what is left of this one's work has to stop. */
export class JobLost extends Error {
  constructor() {
    super('another worker has this job now');
  }
}

/** How far a job is. What is left out stays as it was. */
export interface Progress {
  readonly done?: number;
  readonly total?: number;
  readonly sentence?: string;
  readonly cursor?: unknown;
  readonly report?: unknown;
}

/** What a running job may do. */
export interface Run<Plan, Cursor> {
  /** The job's number. */
  readonly id: number;
  readonly plan: Plan;
  /** Where an earlier attempt had got; null at first. */
  readonly cursor: Cursor | null;
  readonly report: unknown;
  readonly by: string;
  /** Whether it was the end of this server that made a step say no: somebody goes on with the job. */
  readonly isCutOff: () => boolean;
  /**
   * One step: it is worked on while the job's row is locked, and its progress is committed with it.
   * @param work may use the transaction on the site's own database.
   * @returns false when the job is to stop or to pause: then its work returns, and goes on later from its cursor or never.
   * @throws JobLost when another worker has the job.
   */
  readonly step: (work: (client: PoolClient) => Promise<Progress>) => Promise<boolean>;
}

/** What a kind of job is. */
export interface JobWork<Plan, Cursor> {
  readonly unit: string;
  /** Whether a failure is met again with growing pauses, or ends the job. */
  readonly tries: 'again and again' | 'once';
  /** @returns the last sentence; null where there was nothing to do, and the job need not be listed. */
  readonly run: (run: Run<Plan, Cursor>) => Promise<string | null>;
}

/** What a job is started with. The key is what it must not be done twice for at once: a tag, a store, a file. */
export interface NewJob {
  readonly kind: JobKind;
  readonly key: string;
  readonly title: string;
  readonly plan: unknown;
  readonly total: number;
  readonly by: string;
  /** Whether one that is at work already has to be done once more: what it was started for may have come too late. */
  readonly again: boolean;
}
