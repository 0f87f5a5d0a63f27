import { collectorReport, configurationQuery } from '@wide-ledger/contract';
import { Router } from 'express';
import type { Pool } from 'pg';
import type { Guard } from '../../people/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import type { Collectors } from './collectors.ts';
import { changesSince, configurationOf, stampOf } from './told.ts';

/** What collectors ask and tell: configuration, reports, the answers to path checks. */
export function collectorRoutes(home: Pool, catalogue: Catalogue, collectors: Collectors, guard: Guard): Router {
  const router = Router();
  router.get('/collector/configuration', guard.needs('collect'), async (request, response) => {
    const { since, stamp } = configurationQuery.parse(request.query);
    await catalogue.refresh();
    const newest = await stampOf(home, catalogue.collectorVersion);
    // A collector may run a version that this server, restored from a backup, never had.
    const knows = since !== undefined && since <= catalogue.collectorVersion && stamp === (await stampOf(home, since));
    response.json(knows ? changesSince(catalogue, newest, since) : configurationOf(catalogue, newest));
  });
  router.post('/collector/report', guard.needs('collect'), async (request, response) => {
    const checks = collectors.take(collectorReport.parse(request.body));
    await catalogue.refresh();
    response.json({ version: catalogue.collectorVersion, checks });
  });
  return router;
}
