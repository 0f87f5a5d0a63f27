import { job, jobList, jobReport } from '@wide-ledger/contract';
import type { Request } from 'express';
import { z } from 'zod';
import { Calls } from '../http/calls.ts';
import { idIn } from '../http/id.ts';
import { notFound } from '../http/problemError.ts';
import type { Jobs } from './jobs.ts';

const MOST_LISTED = 200;
/** Takes note of what somebody did to a job. */
type NoteOfJob = (request: Request, act: 'stopped' | 'paused' | 'resumed', title: string) => Promise<void>;

/**
 * The list of long work, and its reins.
 * @param noted is told what was done to which job, and by whose request.
 */
export function jobCalls(jobs: Jobs, noted: NoteOfJob): Calls {
  const calls = new Calls();
  const none = (): Error => notFound('There is no such job.');

  calls.on(
    { method: 'get', path: '/jobs', needs: 'read', says: 'Long work, the newest first', answer: jobList },
    async (_request, response) => {
      response.json({ jobs: await jobs.list(MOST_LISTED) });
    },
  );
  calls.on(
    { method: 'get', path: '/jobs/{id}', needs: 'read', says: 'One piece of long work', answer: job },
    async (request, response) => {
      const job = await jobs.find(idIn(request, 'id'));
      if (!job) throw none();
      response.json(job);
    },
  );
  /** Work that is done elsewhere reports how far it is; the answer tells it whether somebody asked it to stop. */
  calls.on(
    {
      method: 'put',
      path: '/jobs',
      needs: 'admin',
      says: 'Long work reports its progress',
      body: jobReport,
      answer: z.object({ stop: z.boolean() }),
    },
    async (request, response) => {
      const { stop } = await jobs.note(jobReport.parse(request.body));
      response.json({ stop });
    },
  );
  for (const wish of ['stop', 'pause'] as const) {
    calls.on(
      {
        method: 'post',
        path: `/jobs/{id}/${wish}`,
        needs: 'admin',
        says: wish === 'stop' ? 'Stop it for good' : 'Let it rest',
        answer: null,
      },
      async (request, response) => {
        const id = idIn(request, 'id');
        if (!(await jobs.ask(id, wish))) throw none();
        await noted(request, wish === 'stop' ? 'stopped' : 'paused', (await jobs.find(id))?.title ?? `job ${id}`);
        response.status(204).end();
      },
    );
  }
  calls.on(
    { method: 'post', path: '/jobs/{id}/resume', needs: 'admin', says: 'Let it go on from where it was', answer: null },
    async (request, response) => {
      const id = idIn(request, 'id');
      const job = await jobs.find(id);
      if (!job) throw none();
      await jobs.resume(id);
      await noted(request, 'resumed', job.title);
      response.status(204).end();
    },
  );
  return calls;
}
