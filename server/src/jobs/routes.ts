import { jobReport, type Job } from '@wide-ledger/contract';
import { desc, eq, sql } from 'drizzle-orm';
import { Router } from 'express';
import type { z } from 'zod';
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

/** Notes how far long work is. @returns its number, and whether somebody asked it to stop. */
export async function noteJob(
  { tables }: Database,
  report: z.infer<typeof jobReport>,
): Promise<{ id: number; stop: boolean }> {
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
    .returning({ id: job.id, state: job.state });
  return { id: row!.id, stop: row!.state === 'stopping' };
}

/** Long work reports here how far it is; the answer tells it whether somebody asked it to stop. */
export function jobRoutes(database: Database, guard: Guard): Router {
  const router = Router();
  router.put('/jobs', guard.needs('admin'), async (request, response) => {
    const { stop } = await noteJob(database, jobReport.parse(request.body));
    response.json({ stop });
  });
  router.post('/jobs/:id/stop', guard.needs('admin'), async (request, response) => {
    const rows = await database.tables
      .update(job)
      .set({ state: 'stopping' })
      .where(eq(job.id, Number(request.params.id)))
      .returning({ id: job.id });
    if (rows.length === 0) throw notFound('There is no such job.');
    response.status(204).end();
  });
  return router;
}
