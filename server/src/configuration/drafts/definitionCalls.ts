import { Calls } from '../../ground/index.ts';
import { BODIES, definitionList, type DefinitionOutput } from '@wide-ledger/contract';
import { DEFINITION_KINDS, type Body } from '@wide-ledger/core';
import { z } from 'zod';
import { visitorOf } from '../../people/index.ts';
import type { Drafts } from './drafts.ts';
import { bodiesInForce, keyOf, type Asked } from '../definitions/definitions.ts';

const MOST = 2000;
const query = z.object({
  kind: z.enum(DEFINITION_KINDS),
  ids: z
    .string()
    .transform((text) => text.split(',').map(Number))
    .pipe(z.array(z.number().int().positive()).max(MOST))
    .optional(),
  /** Only those that the asker's draft touches. */
  draft: z.literal('only').optional(),
});

/** Definitions as they are in force and as they stand in the asker's draft: what leaves are filled in from. */
export function definitionCalls(home: Asked, drafts: Drafts): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'get',
      path: '/definitions',
      needs: 'read',
      says: 'Definitions of a kind, as they are in force and as they stand in your draft',
      query: z.object({ kind: z.string(), ids: z.string().optional(), draft: z.string().optional() }),
      answer: definitionList,
    },
    async (request, response) => {
      const { kind, ids, draft: only } = query.parse(request.query);
      const draft = await drafts.of(visitorOf(request).name);
      const items = draft
        ? await drafts.items(
            draft.id,
            ids?.map((id) => ({ kind, id })),
          )
        : [];
      const changed = new Map(items.filter((item) => item.kind === kind).map((item) => [item.id, item.body]));
      const wanted = only ? [...changed.keys()] : ids;
      const inForce = wanted
        ? await bodiesInForce(
            home,
            wanted.map((id) => ({ kind, id })),
          )
        : await allInForce(home, kind);
      const numbers = wanted ?? [
        ...new Set([...[...inForce.keys()].map((key) => Number(key.split(' ')[1])), ...changed.keys()]),
      ];
      const definitions = numbers.map((id): DefinitionOutput => {
        const output = { kind, id, body: inForce.get(keyOf({ kind, id })) ?? null };
        return changed.has(id) ? { ...output, draft: changed.get(id) ?? null } : output;
      });
      response.json({ definitions });
    },
  );
  return calls;
}

async function allInForce(home: Asked, kind: keyof typeof BODIES): Promise<Map<string, Body>> {
  const { rows } = await home.query<{ id: number; body: Body }>(
    'SELECT id, body FROM definition WHERE kind = $1 AND version_to IS NULL ORDER BY id LIMIT $2',
    [kind, MOST],
  );
  return new Map(rows.map(({ id, body }) => [keyOf({ kind, id }), body]));
}
