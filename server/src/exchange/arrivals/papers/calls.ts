import { carriedPapers, heldPapers, tagChanges, type HeldPaper, type TagChanges } from '@wide-ledger/contract';
import type { Archive } from '../../../archive/index.ts';
import { findTag, tagChangesOf, type Forcing } from '../../../configuration/index.ts';
import { Calls, LARGE_JSON } from '../../../ground/index.ts';
import { visitorOf } from '../../../people/index.ts';
import type { Arrivals } from '../arrivals.ts';
import { papersHeld, takePapers } from './taking.ts';

/** What links bring beside values, and what was changed of a tag wherever that was. */
export function paperCalls(
  { home, catalogue }: Forcing,
  { stores }: Pick<Archive, 'stores'>,
  arrivals: Arrivals,
): Calls {
  const calls = new Calls();

  calls.on(
    {
      method: 'get',
      path: '/carry/papers',
      needs: 'carry',
      says: 'Which papers of a link are here, by their prints',
      answer: heldPapers,
    },
    async (request, response) => {
      const papers: HeldPaper[] = await papersHeld(home, await arrivals.of(visitorOf(request)));
      response.json({ papers });
    },
  );

  calls.on(
    {
      method: 'put',
      path: '/carry/papers',
      needs: 'carry',
      says: 'What goes with values without being one: sources and what was watched of them, annotations, changes of definitions',
      body: carriedPapers,
      takes: LARGE_JSON,
      answer: null,
    },
    async (request, response) => {
      const arrival = await arrivals.of(visitorOf(request));
      const { papers } = carriedPapers.parse(request.body);
      await takePapers(home, stores, catalogue, arrival, papers, arrivals.card.identity);
      response.status(204).end();
    },
  );

  calls.on(
    {
      method: 'get',
      path: '/tags/{tag}/changes',
      needs: 'read',
      says: 'What was changed of a tag’s definition, here and where it comes from, the latest first',
      answer: tagChanges,
    },
    async (request, response) => {
      const { id } = await findTag(catalogue, String(request.params.tag));
      const own = (await tagChangesOf(home, [id])).get(id) ?? [];
      const { rows } = await home.query<TagChanges['changes'][number] & { readonly at: Date }>(
        `SELECT c.at, c.put_by AS by, c.reason, c.fields, a.site_name AS site
         FROM arriving_tag t JOIN arrival a ON a.id = t.arrival_id
         JOIN arriving_change c ON c.arrival_id = t.arrival_id AND c.number = t.number WHERE t.tag_id = $1`,
        [id],
      );
      const changes = [
        ...own.map((change) => ({ ...change, site: null })),
        ...rows.map((change) => ({ ...change, at: change.at.toISOString() })),
      ].sort((a, b) => Date.parse(b.at) - Date.parse(a.at));
      response.json({ changes } satisfies TagChanges);
    },
  );
  return calls;
}
