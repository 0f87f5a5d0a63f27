/**
 * What a link tells beside values. Its papers are made *before* it is looked up to where the journal is carried, and told
 * once it is carried to there: the far end never hears of a time as watched whose values it does not have.
 */
import type { HeldPaper, Paper } from '@wide-ledger/contract';
import { DAY, type Span } from '@wide-ledger/core';
import { createHash } from 'node:crypto';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { Archive } from '../../../archive/index.ts';
import type { Catalogue, LinkRow } from '../../../configuration/index.ts';
import { nowMicros } from '../../../ground/index.ts';
import type { CarriedNumbers } from '../carriedTags.ts';
import { RefusedThere, type FarPapers } from '../far/farEnd.ts';
import { dayPapers, sourcePapers, type Unprinted } from './sourcePapers.ts';
import { annotationPapers, changePapers, emptyPaper } from './tagPapers.ts';

/** How often the last two days are looked at, or as seldom as it takes a hundredth of the time. */
const LATEST_EVERY_MILLISECONDS = 2_000;
/** How often all of it is, in the same way. */
const ALL_EVERY_MILLISECONDS = 3_000;
const OF_THE_TIME = 100;
const ASK_EVERY_MILLISECONDS = 10_000;
/** A far end that was restored while nothing was on its way has forgotten some without a word. */
const ASK_ANEW_MILLISECONDS = 600_000;
/** Days back from now of which is told. */
const MOST_DAYS = 4_000;
/** Characters of papers in one request; a larger one goes by itself. */
const CHARACTERS_AT_ONCE = 1_000_000;
const PAPERS_AT_ONCE = 2_000;
/** One that is longer is not told: no request takes it, and the others would wait behind it for ever. */
const LONGEST_PAPER = 8_000_000;

const keyOf = ({ kind, number, day }: Pick<HeldPaper, 'kind' | 'number' | 'day'>): string => `${kind} ${number} ${day}`;
/** Whole days of UTC up to today's end: what is ahead of the clock is told once it is time. */
function lastDays(count: number): Span {
  const today = Math.floor(nowMicros() / DAY) * DAY;
  return { from: today - (count - 1) * DAY, to: today + DAY };
}

const dayOf = (paper: Unprinted): number => (paper.kind === 'day' ? paper.day : 0);

/** Papers that are ready to be told. */
export type ReadyPapers = readonly { readonly key: string; readonly print: string; readonly text: string }[];

export class Papers {
  /** Prints of what the far end has; undefined until it was asked, null where it is too old to have any. */
  private held: Map<string, string> | null | undefined;
  private sources: readonly number[] = [];
  private latestAt = -Infinity;
  private allAt = -Infinity;
  /** When the far end may be asked what it has. */
  private askAt = -Infinity;
  private version = -1;
  /** What the far end would not take, by its prints: it is told again when it is another. */
  private readonly refused = new Map<string, string>();
  /** The far end's identity; empty where it is none. */
  private to = '';

  constructor(
    private readonly home: Pool,
    private readonly archive: Pick<Archive, 'stores' | 'coverage'>,
    private readonly catalogue: Catalogue,
    private readonly link: LinkRow,
    private readonly far: FarPapers,
    private readonly log: Logger,
  ) {}

  /** What the far end has is to be asked for, now or, where it was just before, in a while. */
  begin(): void {
    this.held = undefined;
    this.askAt = Math.max(performance.now(), this.askAt + ASK_EVERY_MILLISECONDS);
    [this.latestAt, this.allAt] = [-Infinity, -Infinity];
  }

  /**
   * What the far end does not have as it is now; nothing where it was looked at just before, or cannot be asked.
   * @param to the far end's identity
   */
  ready(numbers: CarriedNumbers, to: string): Promise<ReadyPapers> {
    this.to = to;
    return this.news(numbers).catch((error: unknown) => this.miss(error, []));
  }

  /** Tells what is ready. Nothing that is carried waits for it, or fails with it. */
  tell(ready: ReadyPapers): Promise<void> {
    return this.send(ready).catch((error: unknown) => this.miss(error, undefined));
  }

  private miss<Instead>(error: unknown, instead: Instead): Instead {
    this.log.warn(
      { link: this.link.name, error: (error as Error).message },
      'what goes beside the values of a link could not be told',
    );
    this.begin();
    return instead;
  }

  /** @throws FarAway */
  private async news(numbers: CarriedNumbers): Promise<ReadyPapers> {
    const now = performance.now();
    if (numbers.detail.size === 0) return [];
    if (this.held === undefined || now > this.askAt + ASK_ANEW_MILLISECONDS) {
      if (now < this.askAt) return [];
      this.askAt = now;
      const held = await this.far.held();
      this.held = held && new Map(held.map((paper) => [keyOf(paper), paper.print]));
    }
    const all = now > this.allAt || this.version !== this.catalogue.version;
    if (!this.held || (!all && now < this.latestAt)) return [];
    const found = all ? await this.all(numbers) : await this.days(numbers, 2);
    const took = performance.now() - now;
    this.latestAt = performance.now() + Math.max(LATEST_EVERY_MILLISECONDS, OF_THE_TIME * took);
    if (all) {
      this.allAt = performance.now() + Math.max(ALL_EVERY_MILLISECONDS, OF_THE_TIME * took);
      this.version = this.catalogue.version;
    }
    return this.unknown(found);
  }

  /** @throws FarAway */
  private async send(ready: ReadyPapers): Promise<void> {
    for (let at = 0; at < ready.length;) {
      const some = [ready[at++]!];
      for (let length = some[0]!.text.length; at < ready.length && some.length < PAPERS_AT_ONCE; at++) {
        length += ready[at]!.text.length;
        if (length > CHARACTERS_AT_ONCE) break;
        some.push(ready[at]!);
      }
      await this.take(some);
    }
  }

  /** One that is refused holds up none of the others. @throws FarAway */
  private async take(some: ReadyPapers): Promise<void> {
    try {
      await this.far.take(`{"papers":[${some.map(({ text }) => text).join(',')}]}`);
      for (const { key, print } of some) this.held?.set(key, print);
    } catch (error) {
      if (!(error instanceof RefusedThere)) throw error;
      if (some.length > 1) {
        const middle = Math.ceil(some.length / 2);
        await this.take(some.slice(0, middle));
        await this.take(some.slice(middle));
        return;
      }
      const [{ key, print }] = some as [ReadyPapers[number]];
      this.refused.set(key, print);
      this.log.warn(
        { link: this.link.name, paper: key, error: error.message },
        'the far end does not take a paper of a link',
      );
    }
  }

  private async all(numbers: CarriedNumbers): Promise<Unprinted[]> {
    const { home, archive, catalogue, link } = this;
    const sources = await sourcePapers(home, link.id, numbers, (window, groups) =>
      archive.coverage.explanationsOf(window, groups),
    );
    this.sources = sources.map(({ number }) => number);
    const found: Unprinted[] = [
      ...sources,
      ...(await this.days(numbers, MOST_DAYS)),
      ...(await annotationPapers(archive.stores, catalogue, numbers, this.to)),
      ...(await changePapers(home, numbers)),
    ];
    const there = new Set(found.map((paper) => keyOf({ ...paper, day: dayOf(paper) })));
    const [carried, known] = [new Set(numbers.detail.values()), new Set(this.sources)];
    const { from } = lastDays(MOST_DAYS);
    for (const key of this.held!.keys()) {
      const [kind, number, day] = key.split(' ');
      const whose = Number(number);
      if (there.has(key) || !(kind === 'day' ? known : carried).has(whose)) continue;
      if (kind === 'day' && Number(day) < from) continue;
      const empty = emptyPaper(kind as Paper['kind'], whose, Number(day));
      if (empty) found.push(empty);
    }
    return found;
  }

  private days(numbers: CarriedNumbers, count: number): Promise<Unprinted[]> {
    return dayPapers(this.home, this.sources, numbers, lastDays(count));
  }

  private unknown(papers: readonly Unprinted[]): ReadyPapers {
    return papers.flatMap((paper) => {
      const key = keyOf({ ...paper, day: dayOf(paper) });
      const print = createHash('sha256').update(JSON.stringify(paper)).digest('base64url').slice(0, 22);
      if (this.held?.get(key) === print || this.refused.get(key) === print) return [];
      const text = JSON.stringify({ ...paper, print });
      return text.length > LONGEST_PAPER ? [] : [{ key, print, text }];
    });
  }
}
