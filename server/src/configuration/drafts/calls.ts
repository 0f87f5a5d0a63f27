import {
  draftChanges,
  draftEdited,
  draftLeft,
  draftList,
  forceResult,
  newDraft,
  putInForce,
  review,
  settlement,
  type DraftSummary,
  type ForceResult,
  type Problem,
} from '@wide-ledger/contract';
import type { Response } from 'express';
import { Calls, LARGE_JSON, ProblemError, badRequest, idIn, notFound } from '../../ground/index.ts';
import { doerOf, visitorOf } from '../../people/index.ts';
import { keyOf } from '../definitions/definitions.ts';
import { Unforceable, nameOf, outcomeOf } from '../force/force.ts';
import type { Forcing } from '../force/forcing.ts';
import type { Wish } from '../force/settle.ts';
import { hasVersion } from '../versions/versions.ts';
import type { Drafts } from './drafts.ts';
import { UneditableError } from './items.ts';
import { conflictsOf, findingsOf, reviewDraft } from './review.ts';

/** Drafts: everybody sees all of them, and changes one's own. */
export function draftCalls(drafts: Drafts, forcing: Forcing): Calls {
  const calls = new Calls();
  const { home } = forcing;

  async function find(id: number): Promise<DraftSummary> {
    const draft = await drafts.find(id);
    if (!draft) throw notFound(`There is no draft number ${id}. It may have been put in force, or discarded.`);
    return draft;
  }

  async function findOwn(id: number, person: string): Promise<DraftSummary> {
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

  calls.on(
    { method: 'get', path: '/drafts', needs: 'read', says: 'Everybody’s drafts', answer: draftList },
    async (_request, response) => {
      response.json({ drafts: await drafts.list() });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/drafts',
      needs: 'admin',
      says: 'Begin or go on with your draft, or take a version back',
      body: newDraft,
      takes: LARGE_JSON,
      answer: draftEdited,
    },
    async (request, response) => {
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
    },
  );

  calls.on(
    { method: 'get', path: '/drafts/{id}', needs: 'read', says: 'The review of a draft', answer: review },
    async (request, response) => {
      const draft = await find(idIn(request, 'id'));
      const { wishes, inForce } = await drafts.itemsBesideForce(draft.id);
      response.json(await reviewDraft(forcing, draft, wishes, inForce));
    },
  );

  calls.on(
    {
      method: 'put',
      path: '/drafts/{id}',
      needs: 'admin',
      says: 'Make edits in your draft',
      body: draftChanges,
      takes: LARGE_JSON,
      answer: draftEdited,
    },
    async (request, response) => {
      const { name } = visitorOf(request);
      await findOwn(idIn(request, 'id'), name);
      const { created } = await drafts.edit(name, draftChanges.parse(request.body).changes).catch(asProblem);
      response.json({ draft: await drafts.of(name), created });
    },
  );

  calls.on(
    { method: 'post', path: '/drafts/{id}/undo', needs: 'admin', says: 'Take the last edit back', answer: draftLeft },
    async (request, response) => {
      const { name } = visitorOf(request);
      await findOwn(idIn(request, 'id'), name);
      if (!(await drafts.undo(name))) throw badRequest('There is nothing to undo in this draft.');
      response.json({ draft: await drafts.of(name) });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/drafts/redo',
      needs: 'admin',
      says: 'Make the edit again that was taken back last',
      answer: draftLeft,
    },
    async (request, response) => {
      const { name } = visitorOf(request);
      if (!(await drafts.redo(name))) throw badRequest('There is no edit that was taken back and could be made again.');
      response.json({ draft: await drafts.of(name) });
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/drafts/{id}/settle',
      needs: 'admin',
      says: 'Settle fields that somebody else changed meanwhile',
      body: settlement,
      answer: draftLeft,
    },
    async (request, response) => {
      const { name } = visitorOf(request);
      await findOwn(idIn(request, 'id'), name);
      await drafts.settle(name, settlement.parse(request.body).fields);
      response.json({ draft: await drafts.of(name) });
    },
  );

  calls.on(
    { method: 'delete', path: '/drafts/{id}', needs: 'admin', says: 'Discard your draft', answer: null },
    async (request, response) => {
      const { id } = await findOwn(idIn(request, 'id'), visitorOf(request).name);
      await drafts.discard(id);
      response.status(204).end();
    },
  );

  calls.on(
    {
      method: 'post',
      path: '/drafts/{id}/force',
      needs: 'admin',
      says: 'Put your draft in force: all of it, or nothing',
      body: putInForce,
      answer: forceResult,
    },
    async (request, response) => {
      const { reason } = putInForce.parse(request.body ?? {});
      const { id } = await findOwn(idIn(request, 'id'), visitorOf(request).name);
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
    },
  );

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

  return calls;
}

function asProblem(error: unknown): never {
  if (error instanceof UneditableError) throw badRequest(error.message);
  throw error;
}
