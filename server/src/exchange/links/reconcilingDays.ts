/** Reconciling by whole days: a far end such as files, of which it is known what was written and that it still lies there. */
import type { ReconcilingReport } from '@wide-ledger/contract';
import { addTallies, formatInstant, parseTally, tallyText, type Span } from '@wide-ledger/core';
import type { Run } from '../../ground/index.ts';
import type { ComparedByDays, ComparedDay } from './far/farEnd.ts';
import { pairsOf } from './nearHistory.ts';
import {
  MOST_DIFFERING,
  emptyReport,
  noteReconciled,
  wordsOf,
  type Reconciled,
  type ReconcilingCursor,
  type ReconcilingPlan,
} from './reconciling.ts';

/** Of a day that differs nobody knows which of its hours do. */
const HOURS_A_DAY = 24;

type Around = Omit<Reconciled, 'far'> & { readonly far: ComparedByDays };

export async function reconcileDays(
  around: Around,
  { plan, cursor, report: known, by, step }: Run<ReconcilingPlan, ReconcilingCursor>,
): Promise<string> {
  const { window, repair } = plan;
  const days = await around.far.daysIn(window);
  const tags = (await pairsOf(around)).length;
  let report = (known as ReconcilingReport | null) ?? { ...emptyReport(window), tags };
  for (let done = cursor?.tags ?? 0; done < days.length; done++) {
    const day = days[done]!;
    const goesOn = await step(async () => {
      report = noted(report, day, await around.far.compare(day));
      if (repair === 'there' && report.hours > report.repaired) {
        await around.far.mend(day);
        const again = await around.far.compare(day);
        if (isEqual(again)) report = { ...report, repaired: report.repaired + HOURS_A_DAY };
      }
      report = { ...report, equal: report.hours === report.repaired };
      const cursor = { tags: done + 1 };
      return { done: done + 1, total: days.length, cursor, report, sentence: wordsOf(report) };
    });
    if (!goesOn) return wordsOf(report);
  }
  await noteReconciled(around, report, by);
  return wordsOf(report);
}

const isEqual = ({ here, there }: ComparedDay): boolean =>
  there === null ? here.samples === 0 : !there.altered && there.samples === here.samples && there.tally === here.tally;

function noted(report: ReconcilingReport, day: Span, found: ComparedDay): ReconcilingReport {
  const { name, here, there } = found;
  const sum = addTallies(parseTally(report.compared, report.tally), parseTally(here.samples, here.tally));
  const counted = { ...report, compared: sum.count, tally: tallyText(sum) };
  if (isEqual(found)) return counted;
  const held = there?.samples ?? 0;
  const differs = {
    tag: name,
    from: formatInstant(day.from),
    to: formatInstant(day.to),
    missingHere: Math.max(0, held - here.samples),
    missingThere: Math.max(0, here.samples - held),
    // One that was altered, or holds as many others: any of them may be another.
    differentValue: held === here.samples ? here.samples : 0,
    differentStatus: 0,
  };
  return {
    ...counted,
    hours: report.hours + HOURS_A_DAY,
    differing: [...report.differing, differs].slice(0, MOST_DIFFERING),
  };
}
