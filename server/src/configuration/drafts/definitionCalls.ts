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
  /** Only those that the asker's draft touches; none: as they are in force, whatever the draft says. */
  draft: z.enum(['only', 'none']).optional(),
  /** Behind this number: where there are more than one answer holds. */
  after: z.coerce.number().int().nonnegative().default(0),
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
      query: z.object({
        kind: z.string(),
        ids: z.string().optional(),
        draft: z.string().optional(),
        after: z.string().optional(),
      }),
      answer: definitionList,
    },
    async (request, response) => {
      const { kind, ids, draft: which, after } = query.parse(request.query);
      const draft = which === 'none' ? null : await drafts.of(visitorOf(request).name);
      const items = draft
        ? await drafts.items(
            draft.id,
            ids?.map((id) => ({ kind, id })),
          )
        : [];
      const changed = new Map(items.filter((item) => item.kind === kind).map((item) => [item.id, item.body]));
      const wanted = which === 'only' ? [...changed.keys()] : ids;
      const page = wanted ? [] : await someInForce(home, kind, after);
      // What the draft touches comes with the first page, wherever it stands in force.
      const apart = wanted ?? (after === 0 ? [...changed.keys()] : []);
      const inForce = await bodiesInForce(
        home,
        apart.map((id) => ({ kind, id })),
      );
      for (const { id, body } of page) inForce.set(keyOf({ kind, id }), body);
      const numbers = new Set([...page.map(({ id }) => id), ...apart]);
      const definitions = [...numbers].map((id): DefinitionOutput => {
        const output = { kind, id, body: inForce.get(keyOf({ kind, id })) ?? null };
        return changed.has(id) ? { ...output, draft: changed.get(id) ?? null } : output;
      });
      const last = page.length < MOST ? undefined : page.at(-1)!.id;
      response.json({ definitions, ...(last === undefined ? {} : { next: last }) });
    },
  );
  return calls;
}

/** Those that follow a number, as many as an answer holds. */
async function someInForce(
  home: Asked,
  kind: keyof typeof BODIES,
  after: number,
): Promise<{ readonly id: number; readonly body: Body }[]> {
  const { rows } = await home.query<{ id: number; body: Body }>(
    'SELECT id, body FROM definition WHERE kind = $1 AND version_to IS NULL AND id > $2 ORDER BY id LIMIT $3',
    [kind, after, MOST],
  );
  return rows;
}
