/**
 * Long work. A job is a row: what it is to do (plan), how far it is (cursor), what came of it (report), and who is at it.
 * A queue hands jobs to whoever is free, of however many servers of the site; the row decides who really works.
 *
 * Never twice at once: a worker holds a job by its name in the row, renewed while it works, and takes each step in a
 * transaction in which the row is locked and still its own. A worker that was killed leaves a row whose hold runs out; one
 * that was frozen in the middle of a step still has the row locked, and one that was frozen between two finds it taken.
 */
import type { Job, JobKind, JobState } from '@wide-ledger/contract';
import { randomUUID } from 'node:crypto';
import type { Pool, PoolClient } from 'pg';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { inTransaction, type Database } from '../database/connect.ts';
import { asJob, type JobRow } from './row.ts';
import { JobLost, type JobWork, type NewJob, type Progress, type Run } from './work.ts';

const QUEUE = 'job';
/** Jobs worked on at a time by one server. */
const WORKERS = 3;
const POLLING_MILLISECONDS = 1_000;
/** A job whose worker has not been heard of for so long is taken up by another one. */
const HOLD_SECONDS = 15;
const RENEW_MILLISECONDS = 4_000;
/** How often jobs that nobody works on are looked for. */
const SWEEP_MILLISECONDS = 2_000;
const LONGEST_PAUSE_SECONDS = 60;

/** Long work of every kind: one row, one worker at a time, in steps, through kills and restarts. */
export class Jobs {
  private readonly pool: Pool;
  private readonly boss: PgBoss;
  private readonly works = new Map<JobKind, JobWork<never, never>>();
  private readonly worker = randomUUID();
  private attending: Promise<void>[] = [];
  private readonly running = new Set<number>();
  private readonly idle = new Set<() => void>();
  private sweeping: NodeJS.Timeout | null = null;
  private closing = false;

  constructor(
    { pool }: Database,
    private readonly log: Logger,
  ) {
    this.pool = pool;
    this.boss = new PgBoss({
      db: { executeSql: (text, values) => pool.query(text, values) },
      schedule: false,
      retryLimit: 0,
      expireInHours: 23,
    });
    this.boss.on('error', (error) => log.warn({ error: error.message }, 'the queue of jobs is waiting'));
  }

  /** Says how a kind of job is done. */
  register<Plan, Cursor>(kind: JobKind, work: JobWork<Plan, Cursor>): void {
    this.works.set(kind, work);
  }

  /** Begins to work, and takes up what was cut off. */
  async open(): Promise<void> {
    await this.boss.start();
    // At most one waiting message a job; that nobody works twice the rows see to.
    await this.boss.createQueue(QUEUE, { name: QUEUE, policy: 'short' });
    await this.sweep();
    this.attending = Array.from({ length: WORKERS }, () => this.attend());
    this.sweeping = setInterval(() => {
      this.sweep().catch((error: unknown) => this.log.debug({ error: (error as Error).message }, 'jobs are waiting'));
    }, SWEEP_MILLISECONDS);
    this.sweeping.unref();
  }

  /** What runs comes to the end of its step, and goes on with the next start or at another server. */
  async close(): Promise<void> {
    this.closing = true;
    if (this.sweeping) clearInterval(this.sweeping);
    this.wake();
    await Promise.all(this.attending);
    await this.boss.stop({ graceful: false, close: false, wait: false }).catch(() => undefined);
  }

  /**
   * Starts a job. One of the same kind and key that is not done yet is left alone, or done once more when it is done.
   * @returns its number, and whether it was started now.
   */
  async start({ kind, key, title, plan, total, by, again }: NewJob): Promise<{ id: number; started: boolean }> {
    const over = `job.state IN ('done', 'failed', 'stopped')`;
    const fresh = (column: string, value: string): string =>
      `${column} = CASE WHEN ${over} THEN ${value} ELSE job.${column} END`;
    const { rows } = await this.pool.query<{ id: number; started: boolean }>(
      `INSERT INTO job (key, kind, title, state, done, total, unit, sentence, plan, started_by)
         VALUES ($1, $2, $3, 'waiting', 0, $4, $5, '', $6, $7)
         ON CONFLICT (key) DO UPDATE SET title = excluded.title, again = $8 AND NOT (${over}),
           ${fresh('plan', 'excluded.plan')}, ${fresh('done', '0')}, ${fresh('total', 'excluded.total')},
           ${fresh('sentence', "''")}, ${fresh('cursor', 'NULL')}, ${fresh('report', 'NULL')}, ${fresh('attempts', '0')},
           ${fresh('started_by', 'excluded.started_by')}, ${fresh('started_at', 'now()')}, ${fresh('updated_at', 'now()')},
           ${fresh('state', "'waiting'")}
         RETURNING id, state = 'waiting' AND worker IS NULL AS started`,
      [`${kind} ${key}`, kind, title, total, this.workOf(kind).unit, JSON.stringify(plan), by, again],
    );
    if (rows[0]!.started) await this.hand(rows[0]!.id);
    return rows[0]!;
  }

  private workOf(kind: JobKind): JobWork<never, never> {
    const work = this.works.get(kind);
    if (!work) throw new Error(`No work of the kind ${kind} was registered.`);
    return work;
  }

  private async hand(id: number, inSeconds = 0): Promise<void> {
    const options = { singletonKey: String(id), ...(inSeconds > 0 ? { startAfter: inSeconds } : {}) };
    await this.boss.send(QUEUE, { job: id }, options);
    this.wake();
  }

  /** Hands out jobs that nobody works on: of servers that are gone, and those whose message was lost. */
  private async sweep(): Promise<void> {
    const { rows } = await this.pool.query<{ id: number }>(
      `SELECT id FROM job WHERE kind = ANY($1::text[]) AND state IN ('waiting', 'running', 'stopping', 'pausing')
         AND coalesce(held_until, updated_at) < clock_timestamp()`,
      [[...this.works.keys()]],
    );
    for (const { id } of rows) await this.hand(id);
  }

  /**
   * Takes one job after the other from the queue. Fetched by hand: the queue's own workers do not wait for its answers,
   * and a database that goes away between two of them would end the process.
   */
  private async attend(): Promise<void> {
    while (!this.closing) {
      try {
        const [message] = (await this.boss.fetch<{ job: number }>(QUEUE)) ?? [];
        if (message) {
          await this.take(message.data.job);
          await this.boss.complete(QUEUE, message.id);
          continue;
        }
      } catch (error) {
        this.log.debug({ error: (error as Error).message }, 'jobs are waiting');
      }
      if (!this.closing) await this.pause();
    }
  }

  private pause(): Promise<void> {
    return new Promise((resolve) => {
      const goOn = (): void => {
        clearTimeout(timer);
        this.idle.delete(goOn);
        resolve();
      };
      const timer = setTimeout(goOn, POLLING_MILLISECONDS);
      this.idle.add(goOn);
    });
  }

  private wake(): void {
    for (const goOn of this.idle) goOn();
  }

  private async take(id: number): Promise<void> {
    if (this.running.has(id)) return;
    this.running.add(id);
    try {
      await this.work(id);
    } finally {
      this.running.delete(id);
    }
  }

  private async work(id: number): Promise<void> {
    const row = await this.claim(id);
    if (!row) return;
    const renewing = setInterval(() => {
      this.pool
        .query(
          `UPDATE job SET held_until = clock_timestamp() + $3 * interval '1 second' WHERE id = $1 AND worker = $2`,
          [id, this.worker, HOLD_SECONDS],
        )
        .catch(() => undefined);
    }, RENEW_MILLISECONDS);
    try {
      await this.perform(row);
    } catch (error) {
      if (!(error instanceof JobLost)) await this.fail(row, error as Error).catch(() => undefined);
    } finally {
      clearInterval(renewing);
    }
  }

  /** Takes a job that nobody holds, and whose row nobody has locked. */
  private async claim(id: number): Promise<JobRow | undefined> {
    const { rows } = await this.pool.query<JobRow>(
      `UPDATE job SET worker = $2, held_until = clock_timestamp() + $3 * interval '1 second', attempts = attempts + 1,
         state = CASE WHEN state = 'waiting' THEN 'running' ELSE state END, updated_at = now()
       WHERE id = (SELECT id FROM job WHERE id = $1 AND state IN ('waiting', 'running', 'stopping', 'pausing')
                     AND (held_until IS NULL OR held_until < clock_timestamp()) FOR UPDATE SKIP LOCKED)
       RETURNING *`,
      [id, this.worker, HOLD_SECONDS],
    );
    return rows[0];
  }

  private async perform(row: JobRow): Promise<void> {
    let wish: JobState = row.state;
    const run: Run<never, never> = {
      id: row.id,
      plan: row.plan as never,
      cursor: row.cursor as never,
      report: row.report,
      by: row.started_by ?? '',
      isCutOff: () => this.closing && wish === 'running',
      step: async (work) => {
        wish = await this.step(row.id, work);
        return wish === 'running' && !this.closing;
      },
    };
    const sentence = await this.workOf(row.kind).run(run);
    if (wish !== 'running') return this.end(row.id, wish === 'pausing' ? 'paused' : 'stopped', sentence);
    // Cut off by the end of this server: somebody takes it up again.
    if (this.closing) return this.release(row.id);
    if (sentence === null) {
      const { rowCount } = await this.pool.query('DELETE FROM job WHERE id = $1 AND worker = $2 AND NOT again', [
        row.id,
        this.worker,
      ]);
      if (rowCount === 1) return;
    }
    await this.end(row.id, 'done', sentence);
  }

  private async step(id: number, work: (client: PoolClient) => Promise<Progress>): Promise<JobState> {
    return inTransaction(this.pool, async (client) => {
      const { rows } = await client.query<{ state: JobState }>(
        'SELECT state FROM job WHERE id = $1 AND worker = $2 FOR UPDATE',
        [id, this.worker],
      );
      if (!rows[0]) throw new JobLost();
      // What was asked for before the step began is heeded before it is done.
      if (rows[0].state !== 'running') return rows[0].state;
      const { done = null, total = null, sentence = null, cursor, report } = await work(client);
      await client.query(
        `UPDATE job SET done = coalesce($3, done), total = coalesce($4, total), sentence = coalesce($5, sentence),
           cursor = coalesce($6::jsonb, cursor), report = coalesce($7::jsonb, report),
           held_until = clock_timestamp() + $8 * interval '1 second', updated_at = now() WHERE id = $1 AND worker = $2`,
        [id, this.worker, done, total, sentence, json(cursor), json(report), HOLD_SECONDS],
      );
      return 'running';
    });
  }

  private async end(id: number, state: JobState, sentence: string | null): Promise<void> {
    await this.pool.query(
      `UPDATE job SET state = CASE WHEN $3 = 'done' AND again THEN 'waiting' ELSE $3 END, again = false,
         cursor = CASE WHEN again THEN NULL ELSE cursor END, sentence = coalesce($4, sentence),
         done = CASE WHEN $3 = 'done' AND total > 0 THEN total ELSE done END,
         worker = NULL, held_until = NULL, updated_at = now() WHERE id = $1 AND worker = $2`,
      [id, this.worker, state, sentence],
    );
  }

  private async release(id: number): Promise<void> {
    await this.pool.query(
      `UPDATE job SET state = 'waiting', worker = NULL, held_until = NULL WHERE id = $1 AND worker = $2 AND state = 'running'`,
      [id, this.worker],
    );
  }

  private async fail({ id, kind, attempts }: JobRow, error: Error): Promise<void> {
    this.log.warn({ job: id, kind, error: error.message }, 'a job has failed');
    if (this.workOf(kind).tries === 'once') return this.end(id, 'failed', error.message);
    const pause = Math.min(LONGEST_PAUSE_SECONDS, 2 ** Math.min(attempts, 6));
    await this.pool.query(
      `UPDATE job SET state = CASE WHEN state = 'running' THEN 'waiting' ELSE state END, sentence = $3, worker = NULL,
         held_until = clock_timestamp() + $4 * interval '1 second', updated_at = now() WHERE id = $1 AND worker = $2`,
      [id, this.worker, `${error.message.replace(/\.?$/, '.')} It is tried again in ${pause} s.`, pause],
    );
  }

  /** The newest jobs, or one of them. */
  async list(limit: number): Promise<Job[]> {
    const { rows } = await this.pool.query<JobRow>('SELECT * FROM job ORDER BY updated_at DESC LIMIT $1', [limit]);
    return rows.map(asJob);
  }

  async find(id: number): Promise<Job | undefined> {
    const { rows } = await this.pool.query<JobRow>('SELECT * FROM job WHERE id = $1', [id]);
    return rows[0] && asJob(rows[0]);
  }

  /** The job of a kind for a key, however it stands. */
  async of(kind: JobKind, key: string): Promise<Job | undefined> {
    const { rows } = await this.pool.query<JobRow>('SELECT * FROM job WHERE key = $1', [`${kind} ${key}`]);
    return rows[0] && asJob(rows[0]);
  }

  /** Asks a job to stop for good, or to pause; one that nobody works on does so at once. @returns whether there is one. */
  async ask(id: number, wish: 'stop' | 'pause'): Promise<boolean> {
    const [going, gone] = wish === 'stop' ? ['stopping', 'stopped'] : ['pausing', 'paused'];
    const { rowCount } = await this.pool.query(
      `UPDATE job SET updated_at = now(), state = CASE
         WHEN state IN ('waiting', 'paused') AND worker IS NULL THEN $3
         WHEN state IN ('running', 'stopping', 'pausing', 'waiting') THEN $2 ELSE state END WHERE id = $1`,
      [id, going, gone],
    );
    return rowCount === 1;
  }

  /** Lets a paused job go on. */
  async resume(id: number): Promise<boolean> {
    const { rowCount } = await this.pool.query(
      `UPDATE job SET state = 'waiting', attempts = 0, held_until = NULL, updated_at = now() WHERE id = $1 AND state IN ('paused', 'pausing')`,
      [id],
    );
    if (rowCount === 1) await this.hand(id);
    return rowCount === 1;
  }

  /**
   * Notes how far work is that is done elsewhere and only reported here.
   * @returns its number, and whether somebody asked it to stop.
   */
  async note(report: {
    key: string;
    title: string;
    state: 'running' | 'stopped' | 'done' | 'failed';
    done: number;
    total: number;
    unit: string;
    sentence: string;
  }): Promise<{ id: number; stop: boolean }> {
    const { key, title, state, done, total, unit, sentence } = report;
    // Only the work itself may say that it has stopped; while it runs, a wish to stop it stands.
    const { rows } = await this.pool.query<{ id: number; state: JobState }>(
      `INSERT INTO job (key, kind, title, state, done, total, unit, sentence) VALUES ($1, 'reported', $2, $3, $4, $5, $6, $7)
       ON CONFLICT (key) DO UPDATE SET title = excluded.title, done = excluded.done, total = excluded.total,
         unit = excluded.unit, sentence = excluded.sentence, updated_at = now(),
         state = CASE WHEN excluded.state = 'running' AND job.state = 'stopping' THEN 'stopping' ELSE excluded.state END
       RETURNING id, state`,
      [key, title, state, done, total, unit, sentence],
    );
    return { id: rows[0]!.id, stop: rows[0]!.state === 'stopping' };
  }
}

const json = (value: unknown): string | null => (value === undefined ? null : JSON.stringify(value));
