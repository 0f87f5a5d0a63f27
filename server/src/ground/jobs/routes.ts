import { jobReport } from '@wide-ledger/contract';
import { Router, type Request, type RequestHandler } from 'express';
import { z } from 'zod';
import { notFound } from '../http/problem.ts';
import type { Jobs } from './jobs.ts';

const MOST_LISTED = 200;
/** Takes note of what somebody did to a job. */
type NoteOfJob = (request: Request, act: 'stopped' | 'paused' | 'resumed', title: string) => Promise<void>;

const jobNumber = z.coerce.number().int().positive().max(2_147_483_647);

/**
 * The list of long work, and its reins.
 * @param needs the guard of the people's wing: who may look, and who may hold the reins.
 * @param noted is told what was done to which job, and by whose request.
 */
export function jobRoutes(jobs: Jobs, needs: (scope: 'read' | 'admin') => RequestHandler, noted: NoteOfJob): Router {
  const router = Router();
  const none = (): Error => notFound('There is no such job.');

  router.get('/jobs', needs('read'), async (_request, response) => {
    response.json({ jobs: await jobs.list(MOST_LISTED) });
  });
  router.get('/jobs/:id', needs('read'), async (request, response) => {
    const job = await jobs.find(jobNumber.parse(request.params.id));
    if (!job) throw none();
    response.json(job);
  });
  /** Work that is done elsewhere reports how far it is; the answer tells it whether somebody asked it to stop. */
  router.put('/jobs', needs('admin'), async (request, response) => {
    const { stop } = await jobs.note(jobReport.parse(request.body));
    response.json({ stop });
  });
  for (const wish of ['stop', 'pause'] as const) {
    router.post(`/jobs/:id/${wish}`, needs('admin'), async (request, response) => {
      const id = jobNumber.parse(request.params.id);
      if (!(await jobs.ask(id, wish))) throw none();
      await noted(request, wish === 'stop' ? 'stopped' : 'paused', (await jobs.find(id))?.title ?? `job ${id}`);
      response.status(204).end();
    });
  }
  router.post('/jobs/:id/resume', needs('admin'), async (request, response) => {
    const id = jobNumber.parse(request.params.id);
    const job = await jobs.find(id);
    if (!job) throw none();
    await jobs.resume(id);
    await noted(request, 'resumed', job.title);
    response.status(204).end();
  });
  return router;
}
