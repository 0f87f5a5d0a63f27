import {
  browseQuery,
  newSource,
  offersQuery,
  registersQuery,
  unitsQuery,
  type NewSource,
  type Source,
} from '@wide-ledger/contract';
import type { Body } from '@wide-ledger/core';
import { Router } from 'express';
import { doerOf, type Doer, type Guard } from '../../people/index.ts';
import type { Collectors } from '../collectors/collectors.ts';
import type { Questions } from '../questions/questions.ts';
import { bodiesInForce, keyOf, newIds, type Catalogue, type Forcing, type Secrets } from '../../configuration/index.ts';

const LINES = 'application/x-ndjson';

/** Sources with what their collector last said about them. */
export function sourcesWithState(catalogue: Catalogue, collectors: Collectors): Source[] {
  return catalogue.sources.map(({ id, name, kind, connection, paused }) => {
    const source = {
      id,
      name,
      kind,
      connection,
      paused,
      tags: catalogue.tags.filter((tag) => tag.sourceId === id).length,
      ...collectors.stateOf(id),
    };
    return source as Source;
  });
}

/** Sources: listing with their state, adding one, and walking the path to one. */
export function sourceRoutes(
  forcing: Forcing,
  opener: Secrets,
  collectors: Collectors,
  questions: Questions,
  guard: Guard,
): Router {
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
    const source = newSource.parse(request.body);
    const secrets = await opener.openFor([source.connection]);
    const lines = request.accepts(['application/json', LINES]) === LINES;
    // Rung by rung as they are climbed: a line each, the whole check as the last.
    if (lines) response.setHeader('content-type', LINES);
    const check = await questions.answer({ ask: 'check', source, secrets }, (rung) => {
      if (lines) response.write(`${JSON.stringify({ rung })}\n`);
    });
    if (lines) response.end(`${JSON.stringify({ check })}\n`);
    else response.json(check);
  });
  router.post('/sources/offers', guard.needs('admin'), async (request, response) => {
    const { source } = offersQuery.parse(request.body);
    response.json(await questions.answer({ ask: 'offers', source, secrets: {} }));
  });
  router.post('/sources/registers', guard.needs('admin'), async (request, response) => {
    const { source, ...block } = registersQuery.parse(request.body);
    response.json(await questions.answer({ ask: 'registers', source, block, secrets: {} }));
  });
  router.post('/sources/units', guard.needs('admin'), async (request, response) => {
    const { source, from, to } = unitsQuery.parse(request.body);
    response.json(await questions.answer({ ask: 'units', source, from, to, secrets: {} }));
  });
  router.post('/sources/browse', guard.needs('admin'), async (request, response) => {
    const { source, node, id } = browseQuery.parse(request.body);
    const secrets = await opener.openFor([source.connection]);
    const { nodes, more } = await questions.answer({ ask: 'browse', source, node, secrets });
    const taken = id === undefined ? new Map<string, string[]>() : takenNodes(catalogue, id);
    response.json({ more, nodes: nodes.map((one) => ({ ...one, taken: taken.get(one.node) ?? [] })) });
  });
  return router;
}

/** The tags that are read from a source, by the nodes that they are read from. */
function takenNodes(catalogue: Catalogue, source: number): Map<string, string[]> {
  const taken = new Map<string, string[]>();
  for (const { name, sourceId, reading } of catalogue.tags) {
    if (sourceId !== source || !reading || !('node' in reading.address)) continue;
    const { node } = reading.address;
    taken.set(node, [...(taken.get(node) ?? []), name]);
  }
  return taken;
}

/** A source that is new, or has another connection, put in force at once. */
async function putSource(forcing: Forcing, given: NewSource, by: Doer): Promise<number> {
  const { catalogue, home } = forcing;
  await catalogue.refresh();
  const known = catalogue.sourceByName(given.name);
  const id = known?.id ?? (await newIds(home, 'source', 1))[0]!;
  const key = { kind: 'source', id } as const;
  const base = (await bodiesInForce(home, [key])).get(keyOf(key)) ?? null;
  const body = { paused: false, ...base, ...given } as Body;
  await forcing.force({
    by,
    reason: `${given.name}: ${known ? 'another connection' : 'a new source'}.`,
    wishes: [{ ...key, base, body }],
  });
  return id;
}
