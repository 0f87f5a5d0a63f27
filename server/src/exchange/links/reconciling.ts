/**
 * Reconciling: both ends of a link compared by tallies, months first, then the days that differ, and only there sample by
 * sample; made the same where that is wanted, and compared again.
 */
import type { ReconcilingReport } from '@wide-ledger/contract';
import {
  EMPTY_TALLY,
  addTallies,
  cutIntoCells,
  differenceOf,
  differingCells,
  emptyFrame,
  firstAtOrAfter,
  formatInstant,
  parseTally,
  repairOf,
  sliceFrame,
  summaryName,
  tallyText,
  type CellTally,
  type Frame,
  type Span,
  type TallyCell,
} from '@wide-ledger/core';
import type { Run } from '../../ground/index.ts';
import { BY_ITSELF, type Logbook } from '../../people/index.ts';
import { noteEqual } from './carriedTimes.ts';
import type { ComparedEnd } from './far/farEnd.ts';
import { mendHere, mendThere, partsOf } from './mending.ts';
import { Waiting } from './waiting.ts';
import { pairsOf, samplesHere, talliesHere, type NearEnd, type Pair } from './nearHistory.ts';

/** Tags whose months are compared in one go. */
const TAGS_AT_ONCE = 1_000;
/** Tags that are looked at more closely beside each other: most of the time is spent waiting. */
const TAGS_BESIDE = 8;
export const MOST_DIFFERING = 1_000;
/** So long is worked between two notes of how far it is. */
const STEP_MILLISECONDS = 2_000;

export interface ReconcilingPlan {
  readonly link: number;
  readonly window: Span;
  readonly repair: 'nothing' | 'there' | 'here';
  /** Whether what only the mended end has is removed: never without a person's word. Older plans do not say. */
  readonly removals?: boolean;
}

export interface ReconcilingCursor {
  /** Tags that are done. */
  readonly tags: number;
}

export interface Reconciled extends NearEnd {
  readonly logbook: Logbook;
  readonly far: ComparedEnd;
}

export const emptyReport = ({ from, to }: Span): ReconcilingReport => ({
  from: formatInstant(from),
  to: formatInstant(to),
  equal: true,
  compared: 0,
  tags: 0,
  hours: 0,
  repaired: 0,
  tally: tallyText(EMPTY_TALLY),
  differing: [],
});

export async function reconcile(
  around: Reconciled,
  { id, plan, cursor, report: known, by, step }: Run<ReconcilingPlan, ReconcilingCursor>,
): Promise<string> {
  const { window } = plan;
  const pairs = await pairsOf(around);
  const waiting = await Waiting.begin(around.home, around.link, window);
  let done = cursor?.tags ?? 0;
  let report = (known as ReconcilingReport | null) ?? emptyReport(window);
  const visitor = `reconciling ${id}`;
  while (done < pairs.length) {
    const part = pairs.slice(done, done + TAGS_AT_ONCE);
    const months = await talliesAt(around, part, window, 'month', visitor);
    for (let at = 0; at < part.length;) {
      const goesOn = await step(async () => {
        let next = report;
        let reached = at;
        for (const until = performance.now() + STEP_MILLISECONDS; reached < part.length && performance.now() < until;) {
          const some = part.slice(reached, reached + TAGS_BESIDE);
          const found = await Promise.all(
            some.map((pair) => compare({ ...around, visitor, waiting }, pair, months, plan)),
          );
          next = found.reduce(added, next);
          reached += some.length;
        }
        done += reached - at;
        at = reached;
        report = next;
        return { done, total: pairs.length, cursor: { tags: done }, report, sentence: wordsOf(report) };
      });
      if (!goesOn) return wordsOf(report);
    }
  }
  const { home, link } = around;
  if (report.equal) {
    const whole = pairs.filter(({ summary }) => summary === null).map(({ number }) => number);
    await noteEqual(home, link.id, whole, window);
  }
  await noteReconciled(around, report, by);
  return wordsOf(report);
}

/** Into the logbook, as the proof; what had left the journal is there by now. */
export async function noteReconciled(
  { home, link, logbook }: Pick<Reconciled, 'home' | 'link' | 'logbook'>,
  report: ReconcilingReport,
  by: string,
): Promise<void> {
  if (report.equal) await home.query('UPDATE link_state SET lost_until = NULL WHERE link_id = $1', [link.id]);
  await logbook.note(
    { who: by, whence: BY_ITSELF.whence },
    {
      act: 'reconciled',
      name: link.name,
      sentence: `${report.from} to ${report.to}, ${report.tags} tags: ${wordsOf(report)}`,
      new: { compared: report.compared, tally: report.tally, hours: report.hours, repaired: report.repaired },
    },
  );
}

export function wordsOf(report: ReconcilingReport): string {
  const { kept = 0, waiting = 0 } = report;
  const values = (count: number): string => `${count} ${count === 1 ? 'value' : 'values'}`;
  const also = [
    ...(kept > 0 ? [`Kept ${values(kept)} that only the mended end has.`] : []),
    ...(waiting > 0 ? [`Left out ${values(waiting)} waiting to be carried.`] : []),
  ];
  return [foundWords(report), ...also].join(' ');
}

function foundWords({ equal, compared, hours, repaired, tally }: ReconcilingReport): string {
  const samples = `${compared.toLocaleString('en').replaceAll(',', '\u202f')} values`;
  if (hours === 0) return `Equal: ${samples}, tally ${tally}.`;
  const differ = `${hours} ${hours === 1 ? 'hour differs' : 'hours differ'}`;
  if (equal)
    return `Equal now: ${hours} ${hours === 1 ? 'hour' : 'hours'} differed and ${hours === 1 ? 'was' : 'were'} made the same; ${samples}, tally ${tally}.`;
  return repaired > 0 ? `${differ}, ${repaired} of them made the same.` : `${differ}.`;
}

type Cells = ReadonlyMap<number, readonly CellTally[]>;

/** What both ends hold of some tags, by the link's numbers. */
async function talliesAt(
  around: Reconciled,
  pairs: readonly Pair[],
  window: Span,
  by: TallyCell,
  visitor: string,
): Promise<{ here: Cells; there: Cells }> {
  const numbers = pairs.map(({ number }) => number);
  // Both ends count at the same time.
  const counted = around.far.tallies({ numbers, from: window.from, to: window.to, by });
  counted.catch(() => undefined);
  const here = await talliesHere(around, pairs, window, by, visitor);
  const { rows } = await counted;
  return { here, there: new Map(rows.map(({ number, cells }) => [number, cells])) };
}

/** A comparison at work. */
interface Comparing extends Reconciled {
  readonly visitor: string;
  readonly waiting: Waiting;
}

type Mending = Pick<ReconcilingPlan, 'repair' | 'removals'>;
const LOOKING: Mending = { repair: 'nothing' };

async function compare(
  around: Comparing,
  pair: Pair,
  months: { readonly here: Cells; readonly there: Cells },
  plan: ReconcilingPlan,
): Promise<ReconcilingReport> {
  const { window } = plan;
  const own = months.here.get(pair.number) ?? [];
  const differing = differingCells(own, months.there.get(pair.number) ?? []);
  const report = { ...emptyReport(window), tags: 1 };
  for (const month of differing) await compareMonth(around, pair, month, plan, report);
  note(report, differing.length > 0 && plan.repair !== 'nothing' ? await again(around, pair, window, report) : own);
  return report;
}

/** What is known of several tags together. */
function added(sum: ReconcilingReport, one: ReconcilingReport): ReconcilingReport {
  const tally = addTallies(parseTally(sum.compared, sum.tally), parseTally(one.compared, one.tally));
  return {
    ...sum,
    equal: sum.equal && one.equal,
    compared: tally.count,
    tags: sum.tags + one.tags,
    hours: sum.hours + one.hours,
    repaired: sum.repaired + one.repaired,
    kept: (sum.kept ?? 0) + (one.kept ?? 0),
    waiting: (sum.waiting ?? 0) + (one.waiting ?? 0),
    tally: tallyText(tally),
    differing: [...sum.differing, ...one.differing].slice(0, MOST_DIFFERING),
  };
}

/** Counts what a tag holds here among what was compared. */
function note(report: ReconcilingReport, cells: readonly CellTally[]): void {
  const sum = cells.reduce(
    (total, [, , count, tally]) => addTallies(total, parseTally(count, tally)),
    parseTally(report.compared, report.tally),
  );
  report.compared = sum.count;
  report.tally = tallyText(sum);
}

/** Compares a tag that was repaired once more. @returns what it holds here. */
async function again(
  around: Comparing,
  pair: Pair,
  window: Span,
  report: ReconcilingReport,
): Promise<readonly CellTally[]> {
  const { here, there } = await talliesAt(around, [pair], window, 'month', around.visitor);
  const own = here.get(pair.number) ?? [];
  const left = { ...emptyReport(window) };
  for (const month of differingCells(own, there.get(pair.number) ?? []))
    await compareMonth(around, pair, month, LOOKING, left);
  if (!left.equal) report.equal = false;
  return own;
}

/** Down from a month that differs to its days, and within these to the hours, sample by sample. */
async function compareMonth(
  around: Comparing,
  pair: Pair,
  month: Span,
  { repair, removals = false }: Mending,
  report: ReconcilingReport,
): Promise<void> {
  const { visitor, waiting } = around;
  const { number, tag, summary } = pair;
  const name = summary ? `${tag.name}.${summaryName(summary)}` : tag.name;
  const days = await talliesAt(around, [pair], month, 'day', visitor);
  const held = days.there.get(number) ?? [];
  for (const day of differingCells(days.here.get(number) ?? [], held)) {
    const lies = held.some(([from]) => from === day.from) ? await around.far.samples(number, day) : null;
    const stands = await samplesHere(around, pair, day, visitor);
    // Of a summary it is known up to when the far end was told.
    if (summary === null) await waiting.lookOn();
    const clear = (frame: Frame): Frame => (summary === null ? waiting.without(frame, tag.id) : frame);
    const [here, there] = [clear(stands), clear(lies ?? NOTHING)];
    report.waiting = (report.waiting ?? 0) + (summary === null ? waiting.among(stands, tag.id) : 0);
    const hours = noteHours(name, day, here, there, report);
    report.hours += hours;
    if (hours === 0) continue;
    // A summary here follows from the values: it is no other by being so there.
    if (repair === 'nothing' || (repair === 'here' && summary !== null)) {
      report.equal = false;
      continue;
    }
    const [right, mended] = repair === 'there' ? [here, there] : [there, here];
    const extra = removals ? NOTHING : repairOf(right, mended).remove;
    if (repair === 'there') await mendThere(around, number, partsOf(right, mended, removals));
    else await mendHere(around, tag, partsOf(right, mended, removals));
    report.kept = (report.kept ?? 0) + extra.times.length;
    report.repaired += hours - hoursOf(day, extra);
  }
}

const NOTHING = emptyFrame(0, { origins: true });

const between = ({ times }: Frame, { from, to }: Span): [number, number] => [
  firstAtOrAfter(times, from),
  firstAtOrAfter(times, to),
];

/** Names the hours of a day that differ, and in what. @returns how many there are. */
function noteHours(tag: string, day: Span, here: Frame, there: Frame, { differing }: ReconcilingReport): number {
  let hours = 0;
  for (const hour of cutIntoCells(day, 'hour')) {
    const found = differenceOf(sliceFrame(here, ...between(here, hour)), sliceFrame(there, ...between(there, hour)));
    if (Object.values(found).every((count) => count === 0)) continue;
    hours++;
    if (differing.length < MOST_DIFFERING)
      differing.push({ tag, from: formatInstant(hour.from), to: formatInstant(hour.to), ...found });
  }
  return hours;
}

/** In how many hours of a day something of a frame lies. */
const hoursOf = (day: Span, frame: Frame): number =>
  cutIntoCells(day, 'hour').filter((hour) => {
    const [begin, end] = between(frame, hour);
    return end > begin;
  }).length;
