/** Links that compare both ends by themselves, every day at a time of the site's clock. */
import { DAY, formatInstant, lastDue } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Catalogue, LinkRow } from '../../configuration/index.ts';
import { nowMicros, type Jobs } from '../../ground/index.ts';
import { BY_ITSELF } from '../../people/index.ts';
import type { LinkLog } from './linkLog.ts';
import type { ReconcilingPlan } from './reconciling.ts';

/** Starts a comparison as a job. @returns whether none of the link was at work. */
export async function beginReconciling(
  jobs: Jobs,
  { id, name }: Pick<LinkRow, 'id' | 'name'>,
  { window, repair, removals = false }: Pick<ReconcilingPlan, 'window' | 'repair' | 'removals'>,
  by: string,
): Promise<{ readonly job: number; readonly started: boolean }> {
  const { id: job, started } = await jobs.start({
    kind: 'reconcile',
    key: String(id),
    title: `Reconciling ${name}, ${formatInstant(window.from)} to ${formatInstant(window.to)}`,
    plan: { link: id, window, repair, removals } satisfies ReconcilingPlan,
    total: 0,
    by,
    again: false,
  });
  return { job, started };
}

/** Begins what is due and was not begun; of several servers of a site one does. */
export async function compareWhatIsDue(
  home: Pool,
  { links }: Pick<Catalogue, 'links'>,
  jobs: Jobs,
  log: LinkLog,
  zone: string,
): Promise<void> {
  for (const link of links) {
    const { reconciles, paused } = link.body;
    if (!reconciles || paused) continue;
    const now = nowMicros();
    const due = lastDue(now, reconciles.at, zone);
    // The first time counts from when it was asked for, not from the last night.
    const { rowCount } = await home.query(
      `UPDATE link_state SET compared_until = $2
       WHERE link_id = $1 AND compared_until < $2`,
      [link.id, new Date(due / 1000)],
    );
    if (rowCount !== 1) {
      await home.query('UPDATE link_state SET compared_until = now() WHERE link_id = $1 AND compared_until IS NULL', [
        link.id,
      ]);
      continue;
    }
    // Whole minutes that are over: what comes at this moment is on its way.
    const to = due;
    const window = { from: to - reconciles.days * DAY, to };
    await beginReconciling(jobs, link, { window, repair: reconciles.repair }, BY_ITSELF.who);
    await log.note(
      link.id,
      'compares',
      `Both ends are compared over ${reconciles.days} days, as every day at ${reconciles.at}.`,
    );
  }
}
