import { backfillAnswer, newBackfill } from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import { findTag, type Catalogue, type TagRow } from '../../configuration/index.ts';
import { Calls, DEVICE_JSON, badRequest, filledWindow, notFound } from '../../ground/index.ts';
import { doerOf, visitorOf, type Logbook } from '../../people/index.ts';
import type { Backfills } from './backfills.ts';
import type { BackfillWish } from './plan.ts';

/** Fetching history from where it is kept: the plan, and the job. */
export function backfillCalls(catalogue: Catalogue, backfills: Backfills, logbook: Logbook): Calls {
  const calls = new Calls();

  async function tagsOf(names: readonly string[] | undefined, source: string | undefined): Promise<TagRow[]> {
    await catalogue.refresh();
    if (names) return Promise.all([...new Set(names)].map((name) => findTag(catalogue, name)));
    const row = catalogue.sourceByName(source ?? '');
    if (!row) throw notFound(`There is no source "${source}".`);
    return catalogue.tags.filter(({ sourceId }) => sourceId === row.id);
  }

  calls.on(
    {
      method: 'post',
      path: '/backfills',
      needs: 'admin',
      says: 'Fetch history from where it is kept: the plan, and the job that does it',
      body: newBackfill,
      takes: DEVICE_JSON,
      answer: backfillAnswer,
    },
    async (request, response) => {
      const { tags: names, source, dryRun, overlap, ...given } = newBackfill.parse(request.body);
      const window = filledWindow(given);
      const wish: BackfillWish = { tags: await tagsOf(names, source), window, overlap };
      const { plan } = await backfills.plan(wish);
      if (dryRun) {
        response.json({ plan, job: null });
        return;
      }
      if (plan.parts.length === 0) throw badRequest(plan.sentence, 'NOTHING_TO_FETCH');
      const job = await backfills.start(wish, visitorOf(request).name);
      const span = `${formatInstant(window.from)} to ${formatInstant(window.to)}`;
      await logbook.note(doerOf(request), {
        act: 'began a backfill',
        name: names?.length === 1 ? names[0]! : (source ?? `${wish.tags.length} tags`),
        sentence: `${span}, ${overlap === 'fill' ? 'what is missing' : 'all of it'}.`,
      });
      response.json({ plan, job });
    },
  );
  return calls;
}
