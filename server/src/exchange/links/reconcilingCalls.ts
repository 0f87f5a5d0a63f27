import { newReconciling, reconcilingAnswer } from '@wide-ledger/contract';
import { formatInstant } from '@wide-ledger/core';
import { Calls, badRequest, filledWindow, idIn, type Jobs } from '../../ground/index.ts';
import { doerOf, visitorOf } from '../../people/index.ts';
import { beginReconciling } from './comparingByItself.ts';
import type { Links } from './links.ts';
import { reconcileDays } from './reconcilingDays.ts';
import { reconcile, type Reconciled, type ReconcilingCursor, type ReconcilingPlan } from './reconciling.ts';

/** Comparing the two ends of a link, as a job. */
export function reconcilingCalls(around: Omit<Reconciled, 'link' | 'far'>, links: Links, jobs: Jobs): Calls {
  const calls = new Calls();
  jobs.register<ReconcilingPlan, ReconcilingCursor>('reconcile', {
    unit: 'tags',
    tries: 'again and again',
    run: async (run) => {
      const link = await links.find(run.plan.link);
      const end = await links.ends.of(link);
      try {
        if (end.byDays) return await reconcileDays({ ...around, link, far: end.byDays }, run);
        if (!end.compared)
          throw new Error(`The far end of ${link.name} does not tell what it holds: it cannot be compared.`);
        return await reconcile({ ...around, link, far: end.compared }, run);
      } finally {
        await end.close();
      }
    },
  });

  calls.on(
    {
      method: 'post',
      path: '/links/{id}/reconcile',
      needs: 'admin',
      says: 'Compare what both ends of a link hold in a window, and make one of them the same where that is wanted',
      body: newReconciling,
      answer: reconcilingAnswer,
    },
    async (request, response) => {
      const { repair, removals, ...given } = newReconciling.parse(request.body);
      const window = filledWindow(given);
      const link = await links.find(idIn(request, 'id'));
      if (repair === 'here' && link.body.to?.kind === 'files')
        throw badRequest('Files tell nothing that this end could take: they can be mended, this end cannot.');
      const span = `${formatInstant(window.from)} to ${formatInstant(window.to)}`;
      const { job, started } = await beginReconciling(
        jobs,
        link,
        { window, repair, removals },
        visitorOf(request).name,
      );
      if (!started) throw badRequest(`${link.name} is being reconciled already. Wait for that, or stop it.`);
      await around.logbook.note(doerOf(request), { act: 'reconciled', name: link.name, sentence: `Began: ${span}.` });
      response.json({ job });
    },
  );
  return calls;
}
