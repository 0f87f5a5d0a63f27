import { collectorReport, type CollectorConfiguration } from '@wide-ledger/contract';
import { Router } from 'express';
import type { Guard } from '../../people/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import type { Collectors } from './collectors.ts';

/** The configuration in force, as a collector takes it. */
export function configurationOf(catalogue: Catalogue): CollectorConfiguration {
  return {
    version: catalogue.version,
    sources: catalogue.sources.map(({ id, name, kind, connection }) => ({
      id,
      name,
      kind,
      connection,
      tags: catalogue.tags.flatMap((tag) =>
        tag.sourceId === id && tag.collection
          ? [{ id: tag.id, name: tag.name, type: tag.type, low: tag.low, high: tag.high, collection: tag.collection }]
          : [],
      ),
    })),
  };
}

/** What collectors ask and tell: configuration, reports, the answers to path checks. */
export function collectorRoutes(catalogue: Catalogue, collectors: Collectors, guard: Guard): Router {
  const router = Router();
  router.get('/collector/configuration', guard.needs('collect'), async (_request, response) => {
    await catalogue.refresh();
    response.json(configurationOf(catalogue));
  });
  router.post('/collector/report', guard.needs('collect'), async (request, response) => {
    const checks = collectors.take(collectorReport.parse(request.body));
    await catalogue.refresh();
    response.json({ version: catalogue.version, checks });
  });
  return router;
}
