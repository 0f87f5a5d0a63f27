import { quarantineDecision } from '@wide-ledger/contract';
import { Router } from 'express';
import { z } from 'zod';
import type { Catalogue } from '../../configuration/index.ts';
import { notFound } from '../../ground/index.ts';
import { doerOf, visitorOf, type Guard, type Logbook } from '../../people/index.ts';
import type { Quarantine } from './quarantine.ts';

const MOST_LISTED = 1000;
const rowNumber = z.coerce.number().int().positive().max(2_147_483_647);

/** Entries that could not be posted, and what is to become of them. */
export function quarantineRoutes(quarantine: Quarantine, catalogue: Catalogue, logbook: Logbook, guard: Guard): Router {
  const router = Router();
  router.get('/quarantine', guard.needs('read'), async (_request, response) => {
    await catalogue.refresh();
    response.json({ entries: await quarantine.open(MOST_LISTED) });
  });
  router.post('/quarantine/:id', guard.needs('admin'), async (request, response) => {
    const { decision } = quarantineDecision.parse(request.body);
    await catalogue.refresh();
    const id = rowNumber.parse(request.params.id);
    const decided = await quarantine.decide(id, decision, visitorOf(request).name);
    if (!decided) throw notFound('There is no such entry in quarantine, or somebody has decided already.');
    await logbook.note(doerOf(request), {
      act: 'decided',
      sentence: `Entry ${id} of the quarantine: ${decision}.`,
    });
    response.status(204).end();
  });
  return router;
}
