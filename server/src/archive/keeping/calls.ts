import {
  movesAnswer,
  newMove,
  newStore,
  retention,
  retentionPreview,
  retentionQuery,
  store,
  storesAnswer,
  type Store,
} from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import type { Body } from '@wide-ledger/core';
import { bodiesInForce, findTag, keyOf, type DeclaredStore, type Forcing } from '../../configuration/index.ts';
import { Calls, ProblemError, badRequest, idIn, notFound, nowMicros, type Ground } from '../../ground/index.ts';
import { doerOf } from '../../people/index.ts';
import { prepareStore } from '../stores/prepare.ts';
import type { Stores } from '../stores/stores.ts';
import { keptSince, previewRetention } from './retention.ts';

/** What the calls about stores need of the site. */
export interface StoreSite {
  readonly ground: Ground;
  readonly forcing: Forcing;
  readonly stores: Stores;
}

/** Stores, their retention with its preview, and moves of tags between them. */
export function storeCalls({ ground, forcing, stores }: StoreSite): Calls {
  const calls = new Calls();
  const { catalogue } = forcing;
  const { database, seal, schemaFolder, log } = ground;

  const addressOf = ({ sealed_url }: DeclaredStore): string | null => {
    if (sealed_url === null) return null;
    const url = new URL(seal.open(sealed_url));
    url.password = '';
    return url.toString();
  };

  async function describe(row: DeclaredStore): Promise<Store> {
    const known = {
      id: row.id,
      name: row.name,
      address: addressOf(row),
      retentionMonths: row.retention_months,
      keepsSince: row.keeps_since === null ? null : formatInstant(row.keeps_since),
      tags: catalogue.tags.filter(({ storeId }) => storeId === row.id).length,
    };
    try {
      const pool = await stores.pool(row.id);
      const { rows } = await pool.query<{ samples: number; bytes: number; first: number | null; last: number | null }>(
        `SELECT coalesce(sum(samples), 0)::bigint AS samples, min(first_time) AS first, max(last_time) AS last,
                ledger_bytes() AS bytes FROM every_block`,
      );
      const { first, last, ...figures } = rows[0]!;
      return {
        ...known,
        ...figures,
        first: first === null ? null : formatInstant(first),
        last: last === null ? null : formatInstant(last),
        failure: null,
      };
    } catch (error) {
      const failure = `The store does not answer: ${(error as Error).message}.`;
      return { ...known, samples: 0, bytes: 0, first: null, last: null, failure };
    }
  }

  async function findStore(id: number): Promise<DeclaredStore> {
    const row = (await stores.list()).find((one) => one.id === id);
    if (!row) throw notFound(`There is no store number ${id}.`);
    return row;
  }

  calls.on(
    { method: 'get', path: '/stores', needs: 'read', says: 'Stores with what they hold', answer: storesAnswer },
    async (_request, response) => {
      await catalogue.refresh();
      response.json({ stores: await Promise.all((await stores.list()).map(describe)) });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/stores',
      needs: 'admin',
      says: 'Add a store by its address; it is made ready',
      body: newStore,
      answer: store,
    },
    async (request, response) => {
      const { name, url } = newStore.parse(request.body);
      const identity = await prepareStore(url, database.pool, schemaFolder, log).catch((error: unknown) => {
        const { message, code } = error as Error & { code?: string };
        throw new ProblemError(400, 'The store could not be made ready', `${message}`.replace(/\.?$/, '.'), code);
      });
      const known = await database.pool.query<{ id: number }>(
        'INSERT INTO store (name, sealed_url, identity) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING RETURNING id',
        [name, seal.close(url), identity],
      );
      if (!known.rows[0]) throw badRequest(`A store named ${name}, or one in this database, exists already.`);
      const { id } = known.rows[0];
      const body: Body = { name, retentionMonths: null };
      await forcing
        .force({
          by: doerOf(request),
          reason: `${name}: a new store.`,
          wishes: [{ kind: 'store', id, base: null, body }],
        })
        .catch(async (error: unknown) => {
          await database.pool.query('DELETE FROM store WHERE id = $1', [id]);
          throw error;
        });
      response.status(201).json(await describe(await findStore(id)));
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/stores/{id}/retention',
      needs: 'read',
      says: 'What a retention of so many months would let go',
      query: retentionQuery,
      answer: retentionPreview,
    },
    async (request, response) => {
      const { months } = retentionQuery.parse(request.query);
      const row = await findStore(idIn(request, 'id'));
      const since = keptSince(months, nowMicros());
      const expiring = await previewRetention(await stores.pool(row.id), since);
      response.json({ keepsSince: formatInstant(since), months: expiring });
    },
  );

  calls.on(
    {
      method: 'put',
      path: '/stores/{id}/retention',
      needs: 'admin',
      says: 'Keep so many months; drops what lies before',
      body: retention,
      answer: store,
    },
    async (request, response) => {
      const { months } = retention.parse(request.body);
      const row = await findStore(idIn(request, 'id'));
      const key = { kind: 'store', id: row.id } as const;
      const base = (await bodiesInForce(database.pool, [key])).get(keyOf(key))!;
      await forcing.force({
        by: doerOf(request),
        reason: `${row.name}: ${months === null ? 'everything is kept' : `${months} months are kept`}.`,
        wishes: [{ ...key, base, body: { ...base, retentionMonths: months } }],
      });
      response.json(await describe(await findStore(row.id)));
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/stores/moves',
      needs: 'admin',
      says: 'Move tags with their history to another store',
      body: newMove,
      answer: movesAnswer,
    },
    async (request, response) => {
      const { tags: names, store } = newMove.parse(request.body);
      await catalogue.refresh();
      const target = catalogue.storeByName(store);
      if (!target) throw notFound(`There is no store "${store}".`);
      const tags = await Promise.all(names.map((name) => findTag(catalogue, name)));
      // Fails now rather than in the middle of the work.
      await (await stores.pool(target.id)).query('SELECT 1');
      const keys = tags.map(({ id }) => ({ kind: 'tag', id }) as const);
      const bodies = await bodiesInForce(database.pool, keys);
      const leaving = keys.flatMap((key) => {
        const base = bodies.get(keyOf(key));
        return base ? [{ ...key, base, body: { ...base, store: target.id } }] : [];
      });
      const by = doerOf(request);
      const { changes } = await forcing.force({ by, reason: `To be kept in ${store}.`, wishes: leaving });
      response.status(202).json({ started: changes.length });
    },
  );
  return calls;
}
