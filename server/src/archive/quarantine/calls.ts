import { quarantineDecision, quarantineList } from '@wide-ledger/contract';
import type { Catalogue } from '../../configuration/index.ts';
import { Calls, idIn, notFound } from '../../ground/index.ts';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import type { Quarantine } from './quarantine.ts';

const MOST_LISTED = 1000;

/** Entries that could not be posted, and what is to become of them. */
export function quarantineCalls(quarantine: Quarantine, catalogue: Catalogue, logbook: Logbook): Calls {
  const calls = new Calls();
  calls.on(
    {
      method: 'get',
      path: '/quarantine',
      needs: 'read',
      says: 'Entries that could not be posted, about which nobody has decided yet',
      answer: quarantineList,
    },
    async (_request, response) => {
      await catalogue.refresh();
      response.json({ entries: await quarantine.open(MOST_LISTED) });
    },
  );
  calls.on(
    {
      method: 'post',
      path: '/quarantine/{id}',
      needs: 'admin',
      says: 'Decide about an entry that could not be posted',
      body: quarantineDecision,
      answer: null,
    },
    async (request, response) => {
      const { decision } = quarantineDecision.parse(request.body);
      await catalogue.refresh();
      const id = idIn(request, 'id');
      const decided = await quarantine.decide(id, decision, visitorOf(request).name);
      if (!decided) throw notFound('There is no such entry in quarantine, or somebody has decided already.');
      await logbook.note(doerOf(request), {
        act: 'decided',
        sentence: `Entry ${id} of the quarantine: ${decision}.`,
      });
      response.status(204).end();
    },
  );
  return calls;
}
