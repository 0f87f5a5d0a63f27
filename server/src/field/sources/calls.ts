import { Calls } from '../../ground/index.ts';
import { z } from 'zod';
import {
  addressesAnswer,
  addressesQuery,
  browseAnswer,
  browseQuery,
  newSource,
  nodeOf,
  offersAnswer,
  messagesAnswer,
  messagesQuery,
  offersQuery,
  pathCheck,
  registersAnswer,
  registersQuery,
  source,
  rowsAnswer,
  rowsQuery,
  unitsAnswer,
  unitsQuery,
  type NewSource,
  type Source,
  type SourceReader,
} from '@wide-ledger/contract';
import type { Body } from '@wide-ledger/core';
import { doerOf, type Doer } from '../../people/index.ts';
import type { Collectors } from '../collectors/collectors.ts';
import type { Questions } from '../questions/questions.ts';
import { bodiesInForce, keyOf, newIds, type Catalogue, type Forcing, type Secrets } from '../../configuration/index.ts';

const LINES = 'application/x-ndjson';

/** Sources with what their collector last said about them. */
export function sourcesWithState(catalogue: Catalogue, collectors: Collectors): Source[] {
  return catalogue.sources.map(({ id, name, kind, connection, paused, collector, standby, standbyConnection }) => {
    const source = {
      id,
      name,
      kind,
      connection,
      paused,
      ...(collector === null ? {} : { collector }),
      ...(standby === null ? {} : { standby }),
      ...(standbyConnection === null ? {} : { standbyConnection }),
      readers: readersOf(collectors, id),
      tags: catalogue.tags.filter((tag) => tag.sourceId === id).length,
      ...collectors.stateOf(id),
    };
    return source as Source;
  });
}

/** Those that read a source, where they are several. */
function readersOf(collectors: Collectors, id: number): SourceReader[] {
  const readings = collectors.readingsOf(id);
  if (readings.length < 2) return [];
  const holder = collectors.holders.get(id);
  return readings.map((one) => ({ ...one, holds: one.collector === holder }));
}

/** Sources: listing with their state, adding one, and walking the path to one. */
export function sourceCalls(forcing: Forcing, opener: Secrets, collectors: Collectors, questions: Questions): Calls {
  const calls = new Calls();
  const { catalogue } = forcing;
  calls.on(
    {
      method: 'get',
      path: '/sources',
      needs: 'read',
      says: 'Sources and their state',
      answer: z.object({ sources: z.array(source) }),
    },
    async (_request, response) => {
      await catalogue.refresh();
      response.json({ sources: sourcesWithState(catalogue, collectors) });
    },
  );
  calls.on(
    {
      method: 'put',
      path: '/sources',
      needs: 'admin',
      says: 'Create a source or change its connection',
      body: newSource,
      answer: z.object({ id: z.number() }),
    },
    async (request, response) => {
      response.json({ id: await putSource(forcing, newSource.parse(request.body), doerOf(request)) });
    },
  );
  /** A path check is walked by the collector, from where it stands: the server's own view would prove nothing. */
  calls.on(
    {
      method: 'post',
      path: '/sources/check',
      needs: 'admin',
      says: 'Walk the path to a source, rung by rung',
      body: newSource,
      answer: pathCheck,
    },
    async (request, response) => {
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
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/sources/offers',
      needs: 'admin',
      says: 'What the server of a source offers before anybody signs in',
      body: offersQuery,
      answer: offersAnswer,
    },
    async (request, response) => {
      const { source } = offersQuery.parse(request.body);
      response.json(await questions.answer({ ask: 'offers', source, secrets: {} }));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/sources/registers',
      needs: 'admin',
      says: 'A block of registers as a device holds them, read by its collector',
      body: registersQuery,
      answer: registersAnswer,
    },
    async (request, response) => {
      const { source, ...block } = registersQuery.parse(request.body);
      response.json(await questions.answer({ ask: 'registers', source, block, secrets: {} }));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/sources/addresses',
      needs: 'admin',
      says: 'What lies at addresses of a source at this moment, read once by its collector',
      body: addressesQuery,
      answer: addressesAnswer,
    },
    async (request, response) => {
      const { source, ...asked } = addressesQuery.parse(request.body);
      const secrets = await opener.openFor([source.connection]);
      response.json(await questions.answer({ ask: 'addresses', source, ...asked, secrets }));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/sources/messages',
      needs: 'admin',
      says: 'Messages that pass on a broker: the newest of some topics, as its collector hears them',
      body: messagesQuery,
      answer: messagesAnswer,
    },
    async (request, response) => {
      const { source } = messagesQuery.parse(request.body);
      const secrets = await opener.openFor([source.connection]);
      response.json(await questions.answer({ ask: 'messages', source, secrets }));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/sources/rows',
      needs: 'admin',
      says: 'The newest rows of a record that somebody else writes, and what becomes of them',
      body: rowsQuery,
      answer: rowsAnswer,
    },
    async (request, response) => {
      const { source } = rowsQuery.parse(request.body);
      const secrets = await opener.openFor([source.connection]);
      response.json(await questions.answer({ ask: 'rows', source, secrets }));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/sources/units',
      needs: 'admin',
      says: 'Which unit ids behind an address answer, asked one after the other',
      body: unitsQuery,
      answer: unitsAnswer,
    },
    async (request, response) => {
      const { source, from, to } = unitsQuery.parse(request.body);
      response.json(await questions.answer({ ask: 'units', source, from, to, secrets: {} }));
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/sources/browse',
      needs: 'admin',
      says: 'What lies below a node of a source, as its collector sees it',
      body: browseQuery,
      answer: browseAnswer,
    },
    async (request, response) => {
      const { source, node, id } = browseQuery.parse(request.body);
      const secrets = await opener.openFor([source.connection]);
      const { nodes, more } = await questions.answer({ ask: 'browse', source, node, secrets });
      const taken = id === undefined ? new Map<string, string[]>() : takenNodes(catalogue, id);
      response.json({ more, nodes: nodes.map((one) => ({ ...one, taken: taken.get(one.node) ?? [] })) });
    },
  );
  return calls;
}

/** The tags that are read from a source, by the nodes that they are read from. */
function takenNodes(catalogue: Catalogue, source: number): Map<string, string[]> {
  const taken = new Map<string, string[]>();
  for (const { name, sourceId, reading } of catalogue.tags) {
    const node = sourceId === source && reading ? nodeOf(reading.address) : null;
    if (node === null) continue;
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
