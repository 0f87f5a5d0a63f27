import { computationAnswer, newComputation } from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import { findTag, type Catalogue } from '../../configuration/index.ts';
import { Calls, badRequest, filledWindow } from '../../ground/index.ts';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import type { Computations } from './computations.ts';

/** Since when the store of a tag keeps its values; −∞ where it drops none. Microseconds. */
function keptSinceOf(catalogue: Catalogue, id: number): number {
  const row = catalogue.tagById(id);
  return (row && catalogue.keepsSince(row)) ?? -Infinity;
}

/** Computing what a formula gives for the past. */
export function computationCalls(catalogue: Catalogue, computations: Computations, logbook: Logbook): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'post',
      path: '/computations',
      needs: 'admin',
      says: 'Compute a derived tag for the past, as its formula is now: a job; what stood before goes to the modified history',
      body: newComputation,
      answer: computationAnswer,
    },
    async (request, response) => {
      const { tag: name, ...given } = newComputation.parse(request.body);
      const window = filledWindow(given);
      const tag = await findTag(catalogue, name);
      if (tag.inputs === null || tag.retiredAt !== null)
        throw badRequest(`${name} is not computed of other tags: there is nothing to compute.`, 'NOT_DERIVED');
      if (tag.paused) throw badRequest(`${name} is paused. Let it go on first.`, 'PAUSED');
      const kept = Math.max(...Object.values(tag.inputs).map((id) => keptSinceOf(catalogue, id)));
      if (window.to <= kept)
        throw badRequest(`What ${name} is computed from is kept since ${formatInstant(kept)} only.`, 'NOT_KEPT');
      const job = await computations.start(tag, window, visitorOf(request).name);
      const span = `${formatInstant(window.from)} to ${formatInstant(window.to)}`;
      await logbook.note(doerOf(request), { act: 'had the past computed', name, sentence: `${span}.` });
      response.json({ job });
    },
  );
  return calls;
}
