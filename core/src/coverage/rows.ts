/** Rows of strips for many tags of one source at once: what they share is computed once. Times in microseconds. */
import { ORIGINS, type Origin } from '../status/origins.ts';
import { findGaps, type Gap, type Outage } from './gaps.ts';
import { explainedGaps, type ExplainedGap, type GapExplanation } from './explanations.ts';
import { fatesOf, livesOf, type Recovery } from './lives.ts';
import { SpanIndex } from './spanIndex.ts';
import { clip, intersect, subtract, totalLength, union, type Span } from './spans.ts';

export interface SourceWatch extends Span {
  readonly origin: Origin;
}

export interface SourceOutage extends Outage {
  /** 0: the whole source. */
  readonly tag: number;
  /** Found afterwards, within a watch: it is taken out of it. */
  readonly within: boolean;
}

/** Tags that had the same duty in the window. */
export interface DutyGroup {
  readonly spans: readonly Span[];
  readonly tags: readonly number[];
}

/** What is known of one source in a window. */
export interface SourceRecord {
  readonly watches: readonly SourceWatch[];
  readonly outages: readonly SourceOutage[];
  /** What became of what was missed. */
  readonly recoveries: readonly Recovery[];
  /** What people said of it, in the order in which they did. */
  readonly explanations: readonly GapExplanation[];
  readonly groups: readonly DutyGroup[];
  /** What is later is not missing yet: it is on its way. */
  readonly until: number;
}

export interface CoverageSpans {
  readonly duty: readonly Span[];
  readonly spans: readonly SourceWatch[];
  /** What is missing; what was recovered is not. */
  readonly gaps: readonly ExplainedGap[];
  readonly watchedPercent: number;
}

/** What is known of a source, by place in time. */
interface Nearness {
  readonly due: readonly Span[];
  readonly gaps: SpanIndex<Span>;
  readonly outages: SpanIndex<SourceOutage>;
  readonly watched: SpanIndex<Span>;
}

/** Adds what is told of one tag to what is known of it; what is told of the source is kept elsewhere. */
function addTo<One extends { readonly tag: number }>(byTag: Map<number, One[]>, one: One): void {
  if (one.tag === 0) return;
  const known = byTag.get(one.tag);
  if (known) known.push(one);
  else byTag.set(one.tag, [one]);
}

const sameSpans = (a: readonly Span[], b: readonly Span[]): boolean =>
  a.length === b.length && a.every((span, i) => span.from === b[i]!.from && span.to === b[i]!.to);

/** The coverage of one source and of its tags in a window. */
export class SourceCoverage {
  /** When any of its tags was meant to be collected. */
  readonly duty: readonly Span[];
  readonly tags: number;
  private readonly watched: readonly Span[];
  private readonly watchedBy: readonly (readonly [Origin, readonly Span[]])[];
  private readonly ofSource: readonly SourceOutage[];
  private readonly withinSource: readonly Span[];
  /** The same, to be asked for what lies near a place; made when that is asked for first. */
  private nearness: Nearness | null = null;
  private readonly ofTags = new Map<number, SourceOutage[]>();
  private readonly recoveriesOfSource: readonly Recovery[];
  private readonly recoveriesOfTags = new Map<number, Recovery[]>();
  /** What is gone for good of each tag of which something is; made when that is asked for first. */
  private lostOfTags: readonly (readonly Span[])[] | null = null;
  private readonly explanationsOfTags = new Map<number, GapExplanation[]>();

  constructor(
    private readonly window: Span,
    private readonly record: SourceRecord,
  ) {
    const { watches, outages, recoveries, explanations, groups } = record;
    this.duty = union(groups.flatMap(({ spans }) => spans));
    this.tags = groups.reduce((sum, { tags }) => sum + tags.length, 0);
    this.watched = union(watches);
    this.watchedBy = ORIGINS.map(
      (origin) => [origin, union(watches.filter((watch) => watch.origin === origin))] as const,
    ).filter(([, spans]) => spans.length > 0);
    this.ofSource = outages.filter(({ tag }) => tag === 0);
    this.withinSource = this.ofSource.filter(({ within }) => within);
    for (const outage of outages) addTo(this.ofTags, outage);
    this.recoveriesOfSource = recoveries.filter(({ tag }) => tag === 0);
    for (const recovery of recoveries) addTo(this.recoveriesOfTags, recovery);
    for (const explanation of explanations) addTo(this.explanationsOfTags, explanation);
  }

  /** The row of the source itself. */
  get source(): CoverageSpans {
    return this.spansOf(0, this.duty, this.ofSource, this.withinSource);
  }

  /** The row of a tag. */
  tag(tag: number, duty: readonly Span[]): CoverageSpans {
    const own = this.ofTags.get(tag) ?? [];
    return this.spansOf(tag, duty, [...this.ofSource, ...own], [...this.withinSource, ...own]);
  }

  /** The gaps of a tag alone, also those that were recovered. */
  gapsOf(tag: number, duty: readonly Span[]): ExplainedGap[] {
    const own = this.ofTags.get(tag) ?? [];
    const unwatched = union([...this.withinSource, ...own]);
    return this.livesOf(tag, this.gapsAmong(this.dueOf(duty), [...this.ofSource, ...own], unwatched));
  }

  /**
   * The gaps of a tag of which its source's may know nothing, also those that were recovered: where the tag has outages
   * or anything else of its own, and what touches them. Of thousands of tags nearly all is their source's.
   */
  ownGapsOf(tag: number, duty: readonly Span[]): ExplainedGap[] {
    if (!sameSpans(duty, this.duty)) return this.gapsOf(tag, duty);
    const outages = this.ofTags.get(tag) ?? [];
    const others = [...(this.recoveriesOfTags.get(tag) ?? []), ...(this.explanationsOfTags.get(tag) ?? [])];
    const near = this.near;
    const places = union(
      clip(union([...outages, ...others]), this.window).flatMap((own) => [own, ...near.gaps.near(own)]),
    );
    return places.flatMap((place) => {
      const around = near.outages.near(place);
      const own = outages.filter(({ from, to }) => from <= place.to && to >= place.from);
      const unwatched = union([...around.filter(({ within }) => within), ...own]);
      const watched = subtract(near.watched.near(place), unwatched);
      return this.livesOf(tag, findGaps(place, clip(near.due, place), watched, [...around, ...own]));
    });
  }

  private get near(): Nearness {
    const due = this.dueOf(this.duty);
    this.nearness ??= {
      due,
      gaps: new SpanIndex(this.gapsAmong(due, this.ofSource, union(this.withinSource))),
      outages: new SpanIndex(this.ofSource),
      watched: new SpanIndex(this.watched),
    };
    return this.nearness;
  }

  /** The gaps of the source itself, also those that were recovered. */
  get gapsOfSource(): ExplainedGap[] {
    return this.livesOf(0, this.gapsAmong(this.dueOf(this.duty), this.ofSource, union(this.withinSource)));
  }

  /** Of how many tags a part of a stretch is gone for good, though their source gave it of others. */
  goneTagsIn(stretch: Span): number {
    this.lostOfTags ??= [...this.recoveriesOfTags.values()]
      .map((own) => {
        const those = (outcome: Recovery['outcome']): Span[] => union(own.filter((one) => one.outcome === outcome));
        return subtract(those('gone'), those('recovered'));
      })
      .filter((lost) => lost.length > 0);
    return this.lostOfTags.filter((lost) => clip(lost, stretch).length > 0).length;
  }

  /** What became of gaps of a tag, or of the source (0), and what was said of them. */
  private livesOf(tag: number, gaps: readonly Gap[]): ExplainedGap[] {
    const fates = fatesOf(this.recoveriesOfSource, this.recoveriesOfTags.get(tag) ?? []);
    const own = new Set(this.explanationsOfTags.get(tag));
    // In the order in which they were given, whoever they are about.
    const said = this.record.explanations.filter((one) => one.tag === 0 || own.has(one));
    return explainedGaps(livesOf(gaps, fates), said);
  }

  private dueOf(duty: readonly Span[]): Span[] {
    return clip(duty, { from: -Infinity, to: this.record.until });
  }

  private gapsAmong(due: readonly Span[], outages: readonly SourceOutage[], unwatched: readonly Span[]): Gap[] {
    return findGaps(this.window, due, subtract(this.watched, unwatched), outages);
  }

  /** The tags whose rows differ from the source's: by an outage or a duty of their own. */
  *differing(): Generator<{ readonly tag: number; readonly duty: readonly Span[] }> {
    const ownRecords = [this.ofTags, this.recoveriesOfTags, this.explanationsOfTags];
    for (const { spans, tags } of this.record.groups) {
      const differs = !sameSpans(spans, this.duty);
      for (const tag of tags) if (differs || ownRecords.some((known) => known.has(tag))) yield { tag, duty: spans };
    }
  }

  /** @param without time within watches in which nothing was read all the same. */
  private spansOf(
    tag: number,
    duty: readonly Span[],
    outages: readonly SourceOutage[],
    without: readonly Span[],
  ): CoverageSpans {
    const { window } = this;
    const due = this.dueOf(duty);
    const unwatched = union(without);
    const lives = this.livesOf(tag, this.gapsAmong(due, outages, unwatched));
    const gaps = lives.filter(({ state }) => state !== 'recovered');
    const fetched = lives.filter(({ state }) => state === 'recovered');
    const expected = totalLength(clip(due, window));
    const spans = this.watchedBy.flatMap(([origin, watches]) =>
      intersect(clip(subtract(watches, unwatched), window), duty).map((span) => ({ ...span, origin })),
    );
    return {
      duty,
      spans: [...spans, ...fetched.map(({ from, to }) => ({ from, to, origin: 'backfilled' as const }))].sort(
        (a, b) => a.from - b.from,
      ),
      gaps,
      watchedPercent: expected > 0 ? (1 - totalLength(gaps) / expected) * 100 : 100,
    };
  }
}
