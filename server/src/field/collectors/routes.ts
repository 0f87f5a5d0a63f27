import { collectorReport, type CollectorConfiguration, type ConfiguredTag } from '@wide-ledger/contract';
import { Router } from 'express';
import type { Guard } from '../../people/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import type { Collectors } from './collectors.ts';

/** The configuration in force, as a collector takes it. */
export function configurationOf(catalogue: Catalogue): CollectorConfiguration {
  const bySource = new Map<number, ConfiguredTag[]>();
  for (const { id, name, type, low, high, sourceId, paused, reading } of catalogue.tags) {
    if (sourceId === null || reading === null || paused) continue;
    const tag = { id, name, type, low, high, reading };
    const known = bySource.get(sourceId);
    if (known) known.push(tag);
    else bySource.set(sourceId, [tag]);
  }
  return {
    version: catalogue.collectorVersion,
    sources: catalogue.sources
      .filter(({ paused }) => !paused)
      .map(({ id, name, kind, connection }) => ({
        id,
        name,
        kind,
        connection,
        tags: bySource.get(id) ?? [],
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
    response.json({ version: catalogue.collectorVersion, checks });
  });
  return router;
}
