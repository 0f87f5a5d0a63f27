import { createdKey, keyList, newKey } from '@wide-ledger/contract';
import { Calls, badRequest, idIn, notFound } from '../../ground/index.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { doerOf, type Logbook } from '../logbook/logbook.ts';
import type { Keys } from './keys.ts';

/** Keys for programs: shown once, listed with their last use, revoked at once. */
export function keyCalls(keys: Keys, logbook: Logbook): Calls {
  const calls = new Calls();

  calls.on(
    {
      method: 'post',
      path: '/keys',
      needs: 'admin',
      says: 'Make a key for a program; shown once',
      body: newKey,
      answer: createdKey,
      example: { body: { name: 'reports', scopes: ['read'] } },
    },
    async (request, response) => {
      const { name, scopes, ends = null, collector = null } = newKey.parse(request.body);
      const end = ends === null ? null : new Date(ends);
      if (end !== null && end.getTime() <= Date.now()) throw badRequest('ends: this has passed. A key ends later.');
      if (collector !== null && !scopes.includes('collect'))
        throw badRequest('collector: only a key with the scope "collect" belongs to one.');
      const made = await keys.make({ name, scopes, ends: end, collector, by: visitorOf(request).name });
      await logbook.note(doerOf(request), {
        act: 'made a key',
        name,
        sentence: `The key ${name}, which may ${scopes.join(', ')}${end ? `, until ${end.toISOString()}` : ''}.`,
        new: { id: made.id, scopes },
      });
      response.status(201).json(made);
    },
  );

  calls.on(
    { method: 'get', path: '/keys', needs: 'admin', says: 'Keys of programs, with their last use', answer: keyList },
    async (_request, response) => {
      response.json({ keys: await keys.list() });
    },
  );

  calls.on(
    { method: 'delete', path: '/keys/{id}', needs: 'admin', says: 'Revoke a key at once', answer: null },
    async (request, response) => {
      const id = idIn(request, 'id');
      const name = await keys.revoke(id);
      if (name === null) throw notFound(`There is no key number ${id}.`);
      await logbook.note(doerOf(request), { act: 'revoked a key', name, sentence: `The key ${name}.`, old: { id } });
      response.status(204).end();
    },
  );
  return calls;
}
