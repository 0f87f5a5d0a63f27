import { importPlan } from '@wide-ledger/contract';
import { Router } from 'express';
import { z } from 'zod';
import { doerOf, visitorOf, type Guard, type Logbook } from '../../people/index.ts';
import type { Imports } from './imports.ts';

const takeQuery = z.strictObject({
  name: z.string().min(1).max(200),
  zone: z.string().max(60).default('UTC'),
  sheet: z.string().max(100).optional(),
});

/** Bringing files in: take, rehearse, run, stop. */
export function importRoutes(imports: Imports, logbook: Logbook, guard: Guard): Router {
  const router = Router();
  router.use('/imports', guard.needs('write'));
  router.post('/imports', async (request, response) => {
    const { name, zone, sheet = null } = takeQuery.parse(request.query);
    response.status(201).json(await imports.take(name, request, zone, sheet, visitorOf(request).name));
  });
  router.get('/imports/:id', async (request, response) => {
    response.json(await imports.find(request.params.id));
  });
  router.post('/imports/:id/rehearsal', async (request, response) => {
    response.json(await imports.rehearse(request.params.id, importPlan.parse(request.body)));
  });
  router.post('/imports/:id/run', async (request, response) => {
    const started = await imports.run(request.params.id, importPlan.parse(request.body));
    await logbook.note(doerOf(request), { act: 'imported', sentence: `The file ${started.name} was set going.` });
    response.status(202).json(started);
  });
  router.post('/imports/:id/stop', async (request, response) => {
    await imports.stop(request.params.id);
    response.status(204).end();
  });
  return router;
}
