import {
  draftChanges,
  newDraft,
  putInForce,
  settlement,
  type DraftSummary,
  type ForceResult,
  type Problem,
} from '@wide-ledger/contract';
import { Router, type Response } from 'express';
import { ProblemError, badRequest, notFound } from '../../ground/index.ts';
import { doerOf, visitorOf, type Guard } from '../../people/index.ts';
import { keyOf } from '../definitions/definitions.ts';
import { Unforceable, nameOf, outcomeOf } from '../force/force.ts';
import type { Forcing } from '../force/forcing.ts';
import type { Wish } from '../force/settle.ts';
import { hasVersion } from '../versions/versions.ts';
import type { Drafts } from './drafts.ts';
import { UneditableError } from './items.ts';
import { conflictsOf, findingsOf, reviewDraft } from './review.ts';

/** Drafts: everybody sees all of them, and changes one's own. */
export function draftRoutes(drafts: Drafts, forcing: Forcing, guard: Guard): Router {
  const router = Router();
  const { home } = forcing;

  async function find(id: unknown): Promise<DraftSummary> {
    const draft = await drafts.find(Number(id));
    if (!draft) throw notFound(`There is no draft number ${String(id)}. It may have been put in force, or discarded.`);
    return draft;
  }

  async function findOwn(id: unknown, person: string): Promise<DraftSummary> {
    const draft = await find(id);
    if (draft.owner !== person) {
      throw new ProblemError(
        403,
        'Not yours',
        `This is the draft of ${draft.owner}. Only ${draft.owner} can change it.`,
      );
    }
    return draft;
  }

  router.get('/drafts', guard.needs('read'), async (_request, response) => {
    response.json({ drafts: await drafts.list() });
  });

  router.post('/drafts', guard.needs('admin'), async (request, response) => {
    const { changes, version } = newDraft.parse(request.body);
    const { name } = visitorOf(request);
    if (version !== undefined) {
      if (!(await hasVersion(home, version))) throw notFound(`There is no version ${version}.`);
      if (await drafts.of(name)) {
        throw badRequest('You have a draft already. Put it in force or discard it before you take a version back.');
      }
      await drafts.takeBack(name, version);
      response.status(201).json({ draft: await drafts.of(name), created: [] });
      return;
    }
    const { created } = await drafts.edit(name, changes).catch(asProblem);
    response.status(201).json({ draft: await drafts.of(name), created });
  });

  router.get('/drafts/:id', guard.needs('read'), async (request, response) => {
    const draft = await find(request.params.id);
    const { wishes, inForce } = await drafts.itemsBesideForce(draft.id);
    response.json(await reviewDraft(forcing, draft, wishes, inForce));
  });

  router.put('/drafts/:id', guard.needs('admin'), async (request, response) => {
    const { name } = visitorOf(request);
    await findOwn(request.params.id, name);
    const { created } = await drafts.edit(name, draftChanges.parse(request.body).changes).catch(asProblem);
    response.json({ draft: await drafts.of(name), created });
  });

  router.post('/drafts/:id/undo', guard.needs('admin'), async (request, response) => {
    const { name } = visitorOf(request);
    await findOwn(request.params.id, name);
    if (!(await drafts.undo(name))) throw badRequest('There is nothing to undo in this draft.');
    response.json({ draft: await drafts.of(name) });
  });

  router.post('/drafts/:id/settle', guard.needs('admin'), async (request, response) => {
    const { name } = visitorOf(request);
    await findOwn(request.params.id, name);
    await drafts.settle(name, settlement.parse(request.body).fields);
    response.json({ draft: await drafts.of(name) });
  });

  router.delete('/drafts/:id', guard.needs('admin'), async (request, response) => {
    const { id } = await findOwn(request.params.id, visitorOf(request).name);
    await drafts.discard(id);
    response.status(204).end();
  });

  router.post('/drafts/:id/force', guard.needs('admin'), async (request, response) => {
    const { reason } = putInForce.parse(request.body ?? {});
    const { id } = await findOwn(request.params.id, visitorOf(request).name);
    let wishes: readonly Wish[] = [];
    try {
      // The draft goes with the version that it becomes: nothing is added to it between being read and going.
      const { version, changes } = await forcing.force(
        { by: doerOf(request), reason, wishes: async (client) => (wishes = await drafts.claim(client, id)) },
        (client) => drafts.discard(id, client),
      );
      const results = changes.map((change) => ({
        kind: change.kind,
        id: change.id,
        name: nameOf(change),
        outcome: outcomeOf(change),
      }));
      response.json({ version, results } satisfies ForceResult);
    } catch (error) {
      if (!(error instanceof Unforceable)) throw error;
      await refuse(response, error, wishes);
    }
  });

  /** 409 with the fields in conflict and what blocks; the draft stays as it is. */
  async function refuse(response: Response, refused: Unforceable, wishes: readonly Wish[]): Promise<void> {
    const { settled, status, title, message: detail } = refused;
    const names = new Map(wishes.map((wish) => [keyOf(wish), nameOf({ before: wish.base, after: wish.body })]));
    const conflicts = await conflictsOf(home, settled.conflicts, names);
    const findings = findingsOf(settled, names).filter(({ severity }) => severity === 'blocks');
    const problem: Problem = { type: 'about:blank', title, status, detail };
    response
      .status(status)
      .type('application/problem+json')
      .json({ ...problem, conflicts, findings });
  }

  return router;
}

function asProblem(error: unknown): never {
  if (error instanceof UneditableError) throw badRequest(error.message);
  throw error;
}
