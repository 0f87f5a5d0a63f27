import { wayAnswer, wayWish } from '@wide-ledger/contract';
import type { Catalogue } from '../../configuration/index.ts';
import { Calls, idIn, notFound } from '../../ground/index.ts';
import { doerOf, type Logbook } from '../../people/index.ts';
import type { Questions } from '../questions/questions.ts';
import { asSource } from './asked.ts';

/** Changing over by hand between the ways to a source. */
export function wayCalls(catalogue: Catalogue, questions: Questions, logbook: Logbook): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'post',
      path: '/sources/{id}/way',
      needs: 'admin',
      says: 'Have a source read by another of its ways, as far as that leads to it',
      body: wayWish,
      answer: wayAnswer,
    },
    async (request, response) => {
      const { way } = wayWish.parse(request.body);
      await catalogue.refresh();
      const source = catalogue.sourceById(idIn(request, 'id'));
      if (!source) throw notFound('There is no such source.');
      const question = { ask: 'way', source: asSource(source), id: source.id, way, secrets: {} } as const;
      const answer = await questions.answer(question);
      await logbook.note(doerOf(request), {
        act: 'took another way',
        kind: 'source',
        item: source.id,
        name: source.name,
        sentence: answer.sentence,
      });
      response.json(answer);
    },
  );
  return calls;
}
