import { jobReport, type Job } from '@wide-ledger/contract';
import { desc, eq, sql } from 'drizzle-orm';
import { Router } from 'express';
import type { Guard } from '../access/guard.ts';
import type { Database } from '../database/connect.ts';
import { job } from '../database/schema.ts';
import { notFound } from '../http/problem.ts';

export async function newestJobs({ tables }: Database, limit: number): Promise<Job[]> {
  const rows = await tables.select().from(job).orderBy(desc(job.updatedAt)).limit(limit);
  return rows.map(({ key: _key, startedAt, updatedAt, ...rest }) => ({
    ...rest,
    startedAt: startedAt.toISOString(),
    updatedAt: updatedAt.toISOString(),
  }));
}

/** Long work reports here how far it is; the answer tells it whether somebody asked it to stop. */
export function jobRoutes({ tables }: Database, guard: Guard): Router {
  const router = Router();
  router.put('/jobs', guard.needs('admin'), async (request, response) => {
    const report = jobReport.parse(request.body);
    const now = new Date();
    const [row] = await tables
      .insert(job)
      .values({ ...report, startedAt: now, updatedAt: now })
      .onConflictDoUpdate({
        target: job.key,
        set: {
          ...report,
          // Only the work itself may say that it has stopped; while it runs, a wish to stop it stands.
          state:
            report.state === 'running'
              ? sql`CASE WHEN ${job.state} = 'stopping' THEN 'stopping' ELSE 'running' END`
              : report.state,
          updatedAt: now,
        },
      })
      .returning({ state: job.state });
    response.json({ stop: row!.state === 'stopping' });
  });
  router.post('/jobs/:id/stop', guard.needs('admin'), async (request, response) => {
    const rows = await tables
      .update(job)
      .set({ state: 'stopping' })
      .where(eq(job.id, Number(request.params.id)))
      .returning({ id: job.id });
    if (rows.length === 0) throw notFound('There is no such job.');
    response.status(204).end();
  });
  return router;
}
