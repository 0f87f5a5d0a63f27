import { jobKinds, type Job, type JobKind, type JobState } from '@wide-ledger/contract';

/** A row of the table. Plan, cursor and report are the kind's own. */
export interface JobRow {
  readonly id: number;
  readonly key: string;
  readonly kind: JobKind;
  readonly title: string;
  readonly state: JobState;
  readonly done: number;
  readonly total: number;
  readonly unit: string;
  readonly sentence: string;
  readonly plan: unknown;
  readonly cursor: unknown;
  readonly report: unknown;
  readonly started_by: string | null;
  readonly attempts: number;
  readonly started_at: Date;
  readonly updated_at: Date;
}

/** A job as everybody sees it. */
export const asJob = (row: JobRow): Job => ({
  id: row.id,
  kind: jobKinds.parse(row.kind),
  title: row.title,
  state: row.state,
  done: row.done,
  total: row.total,
  unit: row.unit,
  sentence: row.sentence,
  report: row.report ?? null,
  startedAt: row.started_at.toISOString(),
  updatedAt: row.updated_at.toISOString(),
});
