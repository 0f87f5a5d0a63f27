import { newSecret } from '@wide-ledger/contract';
import { Router } from 'express';
import { doerOf, type Guard, type Logbook } from '../../people/index.ts';
import type { Secrets } from './secrets.ts';

/** Taking secrets in. There is no way to read one. */
export function secretRoutes(secrets: Secrets, logbook: Logbook, guard: Guard): Router {
  const router = Router();
  router.post('/secrets', guard.needs('admin'), async (request, response) => {
    const by = doerOf(request);
    const id = await secrets.keep(newSecret.parse(request.body).value, by.who);
    await logbook.note(by, { act: 'kept a secret', sentence: `Secret ${id} was taken in.` });
    response.status(201).json({ id });
  });
  return router;
}
