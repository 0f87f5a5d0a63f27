import { newSource, type NewSource, type PathCheck, type Source } from '@wide-ledger/contract';
import type { Body } from '@wide-ledger/core';
import { Router } from 'express';
import { doerOf, type Doer, type Guard } from '../../people/index.ts';
import type { Collectors } from '../collectors/collectors.ts';
import { ProblemError } from '../../ground/index.ts';
import { bodiesInForce, keyOf, newIds, type Catalogue, type Forcing } from '../../configuration/index.ts';

/** Sources with what their collector last said about them. */
export function sourcesWithState(catalogue: Catalogue, collectors: Collectors): Source[] {
  return catalogue.sources.map(({ id, name, kind, connection, paused }) => ({
    id,
    name,
    kind,
    connection,
    paused,
    tags: catalogue.tags.filter((tag) => tag.sourceId === id).length,
    ...collectors.stateOf(id),
  }));
}

/** Sources: listing with their state, adding one, and walking the path to one. */
export function sourceRoutes(forcing: Forcing, collectors: Collectors, guard: Guard): Router {
  const router = Router();
  const { catalogue } = forcing;
  router.get('/sources', guard.needs('read'), async (_request, response) => {
    await catalogue.refresh();
    response.json({ sources: sourcesWithState(catalogue, collectors) });
  });
  router.put('/sources', guard.needs('admin'), async (request, response) => {
    response.json({ id: await putSource(forcing, newSource.parse(request.body), doerOf(request)) });
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

/** A source that is new, or has another connection, put in force at once. */
async function putSource(forcing: Forcing, given: NewSource, by: Doer): Promise<number> {
  const { catalogue, home } = forcing;
  await catalogue.refresh();
  const known = catalogue.sourceByName(given.name);
  const id = known?.id ?? (await newIds(home, 'source', 1))[0]!;
  const key = { kind: 'source', id } as const;
  const base = (await bodiesInForce(home, [key])).get(keyOf(key)) ?? null;
  const body: Body = { paused: false, ...base, ...given };
  await forcing.force({
    by,
    reason: `${given.name}: ${known ? 'another connection' : 'a new source'}.`,
    wishes: [{ ...key, base, body }],
  });
  return id;
}
