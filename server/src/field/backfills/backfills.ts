/** Backfills as jobs: ordered from collectors, followed while they fetch, and looked at again when they are done. */
import type { BackfillReport, RecoveryOrder } from '@wide-ledger/contract';
import { formatInstant, totalLength, type Span } from '@wide-ledger/core';
import { randomInt } from 'node:crypto';
import type { Coverage } from '../../archive/index.ts';
import type { Catalogue, SourceRow, TagRow } from '../../configuration/index.ts';
import { ProblemError, type Jobs, type Run } from '../../ground/index.ts';
import type { Collectors } from '../collectors/collectors.ts';
import type { Questions } from '../questions/questions.ts';
import { asSource } from '../sources/asked.ts';
import { planBackfill, remainsOf, type BackfillWish, type Planned } from './plan.ts';

interface JobPlan {
  readonly order: number;
  readonly tags: readonly number[];
  readonly window: Span;
  readonly overlap: 'fill' | 'replace';
}

interface Cursor {
  /** What is asked for of each source, as it was planned when the job began or went on. */
  readonly sources: readonly number[];
  readonly total: number;
  readonly missingBefore: number;
}

const LOOK_MILLISECONDS = 1000;
/** Delivery takes a moment: so often what is written is looked for before the window is looked at again. */
const DELIVERY_LOOKS = 60;
const MOST_REMAINS = 500;
const LOOKS_UNTIL_ASKED_AGAIN = 15;

const later = (milliseconds: number): Promise<void> => new Promise((done) => setTimeout(done, milliseconds));

/** Plans and runs backfills. */
export class Backfills {
  constructor(
    private readonly catalogue: Catalogue,
    private readonly coverage: Coverage,
    private readonly collectors: Collectors,
    private readonly questions: Questions,
    private readonly jobs: Jobs,
  ) {
    jobs.register<JobPlan, Cursor>('backfill', {
      unit: 'stretches',
      tries: 'again and again',
      run: (run) => this.run(run),
    });
  }

  plan(wish: BackfillWish): Promise<Planned> {
    return planBackfill(this.catalogue, this.coverage, this.collectors, wish);
  }

  /** Starts one. @returns the job's number. */
  async start({ tags, window, overlap }: BackfillWish, by: string): Promise<number> {
    // Any number does: it tells this order from others at the collectors.
    const order = randomInt(1, 2 ** 47);
    const plan: JobPlan = { order, window, overlap, tags: tags.map(({ id }) => id) };
    const span = `${formatInstant(window.from)} to ${formatInstant(window.to)}`;
    const title = `Backfill of ${tags.length === 1 ? tags[0]!.name : `${tags.length} tags`}, ${span}`;
    const { id } = await this.jobs.start({
      kind: 'backfill',
      key: String(order),
      title,
      plan,
      total: 0,
      by,
      again: false,
    });
    return id;
  }

  private async run(run: Run<JobPlan, Cursor>): Promise<string | null> {
    const { order, window, overlap } = run.plan;
    await this.catalogue.refresh();
    const tags = run.plan.tags.flatMap((id) => this.catalogue.tagById(id) ?? []);
    const wish: BackfillWish = { tags, window, overlap };
    const planned = await this.plan(wish);
    const before = run.cursor?.missingBefore ?? missingOf(planned, tags);
    const asked = new Set([...(run.cursor?.sources ?? []), ...planned.parts.map(({ source }) => source.id)]);
    const stretches = planned.parts.flatMap(({ holes }) => holes.flatMap((hole) => hole.tags)).length;
    const total = Math.max(stretches, run.cursor?.total ?? 0);
    const cursor: Cursor = { sources: [...asked], total, missingBefore: before };
    const goesOn = await run.step(() => Promise.resolve({ cursor, total, sentence: planned.plan.sentence }));
    if (!goesOn) return null;
    for (const part of planned.parts) await this.order(part, order);
    const orders = await this.follow(run, planned.parts, cursor, order);
    if (orders !== null) return this.verify(run, wish, before, orders);
    if (!run.isCutOff()) await Promise.all(planned.parts.map(({ source }) => this.takeBack(source, order)));
    return 'Taken back. What was fetched until then stays.';
  }

  /** @throws ProblemError where no collector takes it: the job tries again. */
  private async order({ source, holes }: Planned['parts'][number], order: number): Promise<void> {
    const answer = await this.questions.answer({
      ask: 'recover',
      source: asSource(source),
      id: source.id,
      order,
      holes: holes.map(({ tags, from, to }) => ({ tags: [...tags], from, to })),
      secrets: {},
    });
    if (!answer.taken) throw new ProblemError(409, 'Not taken', answer.sentence);
  }

  private takeBack(source: SourceRow, order: number): Promise<unknown> {
    const question = {
      ask: 'recover' as const,
      source: asSource(source),
      id: source.id,
      order,
      holes: [],
      secrets: {},
    };
    return this.questions.answer(question).catch(() => undefined);
  }

  /** Follows what the collectors report until all is fetched. @returns what came of it; null: it is to stop. */
  private async follow(
    run: Run<JobPlan, Cursor>,
    parts: Planned['parts'],
    { sources, total }: Cursor,
    order: number,
  ): Promise<RecoveryOrder[] | null> {
    for (let looks = 1; ; looks++) {
      const told = new Map(sources.map((id) => [id, this.progressOf(id, order)]));
      const known = [...told.values()].filter((one) => one !== null);
      const left = known.reduce((sum, one) => sum + one.left, 0);
      const silent = parts.filter(({ source }) => told.get(source.id) === null);
      if (silent.length === 0 && left === 0) return known;
      const sentence =
        silent.length > 0
          ? `Waiting for the collector of ${silent.map(({ source }) => source.name).join(', ')}.`
          : `${valuesOf(known)} values in ${callsOf(known)} calls.`;
      const done = silent.length > 0 ? {} : { done: Math.max(0, total - left) };
      if (!(await run.step(() => Promise.resolve({ ...done, sentence })))) return null;
      await later(LOOK_MILLISECONDS);
      // A collector that began anew, without its disk, knows nothing of it.
      if (looks % LOOKS_UNTIL_ASKED_AGAIN === 0)
        for (const part of silent) await this.order(part, order).catch(() => undefined);
    }
  }

  private progressOf(source: number, order: number): RecoveryOrder | null {
    const orders = this.collectors.stateOf(source).state?.recovery?.orders ?? [];
    return orders.find((one) => one.order === order) ?? null;
  }

  /** Looks at the window again: each stretch that is still missing has its reason. */
  private async verify(
    run: Run<JobPlan, Cursor>,
    { tags, window }: BackfillWish,
    missingBefore: number,
    orders: readonly RecoveryOrder[],
  ): Promise<string> {
    let missing = await this.coverage.missingOf(tags, window);
    for (let looks = 0; looks < DELIVERY_LOOKS && [...missing.values()].some(({ wanted }) => wanted); looks++) {
      await run.step(() => Promise.resolve({ sentence: 'Fetched; waiting until all of it is delivered.' }));
      await later(LOOK_MILLISECONDS);
      missing = await this.coverage.missingOf(tags, window);
    }
    const remains = remainsOf(tags, window, missing).sort((a, b) => b.to - b.from - (a.to - a.from));
    const missingAfter = totalLength(remains) / 1e6;
    const report: BackfillReport = {
      values: valuesOf(orders),
      calls: callsOf(orders),
      missingBefore,
      missingAfter,
      remains: remains
        .slice(0, MOST_REMAINS)
        .map(({ from, to, ...rest }) => ({ ...rest, from: formatInstant(from), to: formatInstant(to) })),
    };
    await run.step(() => Promise.resolve({ report }));
    const left =
      remains.length === 0
        ? 'nothing is missing any more'
        : `${remains.length} ${remains.length === 1 ? 'stretch is' : 'stretches are'} still missing, each with its reason`;
    return `${report.values} values in ${report.calls} calls; ${left}.`;
  }
}

const valuesOf = (orders: readonly RecoveryOrder[]): number => orders.reduce((sum, { values }) => sum + values, 0);
const callsOf = (orders: readonly RecoveryOrder[]): number => orders.reduce((sum, { calls }) => sum + calls, 0);

/** Seconds, of all tags together. */
const missingOf = ({ missing }: Planned, tags: readonly TagRow[]): number =>
  tags.reduce((sum, { id }) => sum + totalLength(missing.get(id)?.missing ?? []), 0) / 1e6;
