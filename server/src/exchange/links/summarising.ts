/** The summaries of one link: sent when an interval is over, and again when late or corrected values touch it. */
import { lastEdge, shortestOf, summaryInterval, type Frame, type Span, type CarriedSummary } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { summariesOf, type Archive, type SummarisedTag } from '../../archive/index.ts';
import type { Catalogue, LinkRow } from '../../configuration/index.ts';
import { nowMicros } from '../../ground/index.ts';
import type { CarriedNumbers } from './carriedTags.ts';
import type { CarriedPart } from './far/farEnd.ts';

/** After an interval has ended, for values that are on their way: what comes later is made good. Microseconds. */
const SETTLES = 3_000_000;
/** Intervals of one summary that are caught up with in one go. */
const MOST_AT_ONCE = 20_000;
/** Tags whose summaries travel in one request. */
const TAGS_AT_ONCE = 500;

type Reading = Pick<Archive, 'reading' | 'coverage'>;

/** Where summaries are computed, for which link. */
export interface SummariesAround {
  readonly archive: Reading;
  readonly catalogue: Catalogue;
  /** By whose clock calendar intervals begin. */
  readonly zone: string;
  readonly visitor: string;
}

/** Figures of tags as a far end takes them. @param numbers the link's, by tag, in the order in which summaries were asked for. */
export async function summaryFrame(
  { archive, zone, visitor }: SummariesAround,
  wanted: readonly SummarisedTag[],
  numbers: ReadonlyMap<number, readonly number[]>,
  over: number,
): Promise<Frame> {
  const found: [number: number, begin: number, value: number, status: number][] = [];
  for await (const { tag, figures } of summariesOf(archive.reading, archive.coverage, wanted, { over, zone }, visitor))
    for (const [summary, begin, value, status] of figures)
      found.push([numbers.get(tag)![summary]!, begin, value ?? NaN, status]);
  found.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  return {
    tags: Uint32Array.from(found, ([number]) => number),
    times: Float64Array.from(found, ([, begin]) => begin),
    values: Float64Array.from(found, ([, , value]) => value),
    status: Uint32Array.from(found, ([, , , status]) => status),
    origins: null,
    texts: [],
  };
}

export class Summarising {
  /** Intervals that were over by then have been sent; null: none has been. Microseconds. */
  private until: number | null = null;
  /** When each tag had its last value, as far as this was seen go by. Microseconds. */
  private readonly seen = new Map<number, number>();

  constructor(
    private readonly home: Pool,
    private readonly around: SummariesAround,
    private readonly link: LinkRow,
  ) {}

  /** Finds out how far the summaries have got; a link's first ones are those of the intervals that run now. */
  async begin(): Promise<void> {
    if (this.link.body.summaries.length === 0) return;
    const { rows } = await this.home.query<{ until: number | null }>(
      'SELECT summarised_until AS until FROM link_state WHERE link_id = $1',
      [this.link.id],
    );
    this.until = rows[0]?.until ?? null;
    this.seen.clear();
    if (this.until === null) await this.reached(this.lastEnd());
  }

  /** Summaries that were sent and are others now. @param touched of a stretch of the journal: from the first to the last time of each tag. */
  async again(touched: ReadonlyMap<number, Span>, { summaries }: CarriedNumbers): Promise<CarriedPart[]> {
    const { until } = this;
    if (until === null || summaries.size === 0) return [];
    const wanted: (Span & { readonly tag: number })[] = [];
    for (const [tag, { from, to }] of touched) {
      const before = this.seen.get(tag) ?? -Infinity;
      this.seen.set(tag, Math.max(before, to));
      // The first value after an interval may change how that ended.
      if (summaries.has(tag) && (from < until || before < until)) wanted.push({ tag, from, to: to + 1 });
    }
    const parts: CarriedPart[] = [];
    for (let at = 0; at < wanted.length; at += TAGS_AT_ONCE) {
      const some = wanted.slice(at, at + TAGS_AT_ONCE);
      parts.push(...(await this.parts(some, 'touched', summaries, until)));
    }
    return parts;
  }

  /** Summaries of the intervals that have ended since; once all are sent, {@link reached} is to be told. */
  async *ended({ summaries }: CarriedNumbers): AsyncGenerator<readonly CarriedPart[], number | null> {
    const { until } = this;
    if (until === null || summaries.size === 0) return null;
    const end = this.lastEnd();
    if (end <= until) return null;
    const wanted = [...summaries.keys()].map((tag) => ({ tag, from: until, to: end }));
    for (let at = 0; at < wanted.length; at += TAGS_AT_ONCE)
      yield await this.parts(wanted.slice(at, at + TAGS_AT_ONCE), 'ended', summaries, end);
    return end;
  }

  /** The far end has all that was over by an instant. */
  async reached(until: number): Promise<void> {
    await this.home.query('UPDATE link_state SET summarised_until = $2 WHERE link_id = $1', [this.link.id, until]);
    this.until = until;
  }

  /** When an interval ended last, of whichever summary; of a long time that was missed, as much as goes at a time. */
  private lastEnd(): number {
    const intervals = this.link.body.summaries.map(({ interval }) => summaryInterval(interval)!);
    const step = MOST_AT_ONCE * Math.min(...intervals.map(shortestOf));
    const by = Math.min(nowMicros() - SETTLES, (this.until ?? Infinity) + step);
    return Math.max(...intervals.map((interval) => lastEdge(by, interval, this.around.zone)));
  }

  private async parts(
    spans: readonly (Span & { readonly tag: number })[],
    which: SummarisedTag['which'],
    summaries: CarriedNumbers['summaries'],
    over: number,
  ): Promise<CarriedPart[]> {
    const wanted = spans.flatMap(({ tag: id, from, to }): SummarisedTag[] => {
      const tag = this.around.catalogue.tagById(id);
      return tag ? [{ tag, which, span: { from, to }, summaries: summariesOn(summaries, id) }] : [];
    });
    const numbers = new Map([...summaries].map(([tag, pairs]) => [tag, pairs.map(([, number]) => number)]));
    const frame = await summaryFrame(this.around, wanted, numbers, over);
    const description: CarriedPart['description'] = { writer: 'summaries', origin: 'derived', reason: null, via: [] };
    return frame.times.length === 0 ? [] : [{ description, frame }];
  }
}

const summariesOn = (summaries: CarriedNumbers['summaries'], tag: number): CarriedSummary[] =>
  summaries.get(tag)!.map(([summary]) => summary);
