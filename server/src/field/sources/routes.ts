import { newSource, type PathCheck, type Source } from '@wide-ledger/contract';
import { Router } from 'express';
import type { Guard } from '../../people/index.ts';
import type { Collectors } from '../collectors/collectors.ts';
import { ProblemError } from '../../ground/index.ts';
import type { Catalogue } from '../../configuration/index.ts';

/** Sources with what their collector last said about them. */
export function sourcesWithState(catalogue: Catalogue, collectors: Collectors): Source[] {
  return catalogue.sources.map(({ id, name, kind, connection }) => ({
    id,
    name,
    kind,
    connection,
    tags: catalogue.tags.filter((tag) => tag.sourceId === id).length,
    ...collectors.stateOf(id),
  }));
}

/** Sources: listing with their state, adding one, and walking the path to one. */
export function sourceRoutes(catalogue: Catalogue, collectors: Collectors, guard: Guard): Router {
  const router = Router();
  router.get('/sources', guard.needs('read'), async (_request, response) => {
    await catalogue.refresh();
    response.json({ sources: sourcesWithState(catalogue, collectors) });
  });
  router.put('/sources', guard.needs('admin'), async (request, response) => {
    const id = await catalogue.putSource(newSource.parse(request.body));
    response.json({ id });
  });
  /** A path check is walked by the collector, from where it stands: the server's own view would prove nothing. */
  router.post('/sources/check', guard.needs('admin'), async (request, response) => {
    const check: PathCheck | null = await collectors.askForCheck(newSource.parse(request.body));
    if (!check) {
      throw new ProblemError(
        503,
        'No collector answered',
        'No collector took up the path check within 15 seconds. Is it running? The Desk shows it.',
      );
    }
    response.json(check);
  });
  return router;
}
