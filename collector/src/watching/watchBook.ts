/** The book of a source's watches: what was watched from when to when, what was not, and why. Microseconds throughout. */
import type { OutageSpan } from '@wide-ledger/contract';
import { Status, type Span } from '@wide-ledger/core';
import type { Gathering } from '../gathering/gathering.ts';
import type { Fault, Reached, SourceAway } from '../kinds/kind.ts';
import type { ClockStep } from './clock.ts';

/** What is remembered of a source across a restart. */
export interface SourceNotes {
  readonly watchedUntil: number | null;
  readonly outage: OutageSpan | null;
  /** When the tags got a Bad sample for the outage that is going on; older notes do not say. */
  readonly mark?: number | null;
  readonly tagOutages: readonly OutageSpan[];
  /** How far it is read, where it is a record. */
  readonly record?: Reached;
}

/** What nobody watched, found out when watching went on: the source may have kept it. Microseconds. */
export interface Missed {
  readonly from: number;
  readonly to: number;
  /** Null for all. */
  readonly tags: readonly number[] | null;
  /** When they got a Bad sample, by the source's clock; null where they got none. */
  readonly mark: number | null;
}

/** What a book of watches stands in. */
export interface BookSurroundings {
  readonly source: number;
  /** Where it says what was watched; another one when others begin to watch the same. */
  gathering(): Gathering;
  /** The tags that are read at this moment. */
  tagsNow(): Iterable<number>;
  /** Says that tags have no value from an instant on. @returns the time of that sample, by the source's clock. */
  markMissing(tags: Iterable<number>, at: number, status: number): number;
  /** Whether the source keeps what is missed, and is asked for it. */
  recoverable(): boolean;
  missed(missed: Missed): void;
}

/** Time in which nothing was read, found afterwards within a watch; with whose tags, null for all. */
export interface MissedTime {
  readonly from: number;
  readonly to: number;
  readonly tags: readonly number[] | null;
  /** Whether the source had not answered by then. */
  readonly outrun: boolean;
}

const STALLED = {
  cause: 'collector',
  sentence: 'The collector did not read for a while: it was stopped, or its machine had no time for it.',
} as const;
const SLOW = {
  cause: 'source',
  sentence: 'The source took longer to answer than until the next reads were due.',
} as const;

/**
 * Keeps account of one source. At the start of every stretch that was not watched, the tags that it concerns get a Bad
 * sample, so that no reader takes the last value for the present.
 */
export class WatchBook {
  private watchedFrom: number | null = null;
  private watchedUntil: number | null;
  private outage: OutageSpan | null;
  /** When the tags got a Bad sample for the outage that is going on. */
  private mark: number | null;
  private readonly tagOutages = new Map<number, OutageSpan>();
  /** The last time that was not watched, once it is over. */
  private gap: Span | null = null;
  private readonly source: number;

  constructor(
    private readonly around: BookSurroundings,
    notes: SourceNotes | null,
  ) {
    this.source = around.source;
    this.watchedUntil = notes?.watchedUntil ?? null;
    this.outage = notes?.outage ?? null;
    this.mark = notes?.mark ?? null;
    for (const outage of notes?.tagOutages ?? []) this.tagOutages.set(outage.tag!, outage);
  }

  private get gathering(): Gathering {
    return this.around.gathering();
  }

  get notes(): SourceNotes {
    const { watchedUntil, outage, mark, tagOutages } = this;
    return { watchedUntil, outage, mark, tagOutages: [...tagOutages.values()] };
  }

  /** The outage that is going on, for people; null while it is watched. */
  get trouble(): Pick<OutageSpan, 'sentence' | 'code'> | null {
    return this.outage;
  }

  /** What cannot be read of the source while it is watched. */
  get faultyTags(): readonly OutageSpan[] {
    return [...this.tagOutages.values()];
  }

  /** The first instant of which nothing is said yet, and not before a given one. */
  after(at: number): number {
    return Math.max(at, (this.watchedUntil ?? 0) + 1);
  }

  /** After a start: what was being watched when the collector ended without notice. @param reason where it is known */
  endedWithoutNotice(reason?: string): void {
    if (this.watchedUntil === null || this.outage !== null) return;
    const sentence =
      reason === undefined
        ? 'The collector ended without notice and was started again later.'
        : `The collector ended because of a fault of its own (${reason}) and was started again later.`;
    this.openOutage('collector', sentence, null, Status.BadNotConnected, this.watchedUntil + 1000);
  }

  /** It was watched until an instant. */
  watched(until: number): void {
    if (this.outage) {
      const { from } = this.outage;
      const to = Math.max(from, until);
      this.gathering.outage({ ...this.outage, to });
      this.around.missed({ from, to, tags: null, mark: this.mark });
      this.gap = { from, to };
      this.outage = null;
      this.watchedUntil = null;
    }
    this.watchedFrom ??= this.watchedUntil ?? until;
    this.watchedUntil = Math.max(until, this.watchedUntil ?? until);
  }

  /** Whether an instant lies in the time that was not watched last. */
  isGap(at: number): boolean {
    return this.gap !== null && at > this.gap.from && at < this.gap.to;
  }

  /** Beats were missed within the watch. */
  missed({ from, to, tags, outrun }: MissedTime): void {
    const why = outrun ? SLOW : STALLED;
    const recoverable = this.around.recoverable();
    const common = { from, to, ...why, source: this.source, code: null, recoverable, within: true } as const;
    if (tags === null) this.gathering.outage({ ...common, tag: null });
    else for (const tag of tags) this.gathering.outage({ ...common, tag });
    const mark = this.around.markMissing(tags ?? this.around.tagsNow(), from + 1, Status.BadNotConnected);
    this.around.missed({ from, to, tags, mark });
  }

  /**
   * The source had more values of a tag than it could hold: some between two moments are lost.
   * @param exact whether the first is the time of the last value that came: after it the tag has none
   */
  dropped(tag: number, { from, to }: Span, exact: boolean): void {
    if (to <= from) return;
    const sentence = 'The source dropped values of this tag: more came than its queue holds.';
    const outage = { source: this.source, tag, from, to, cause: 'tag', sentence, code: 'OVERFLOW' } as const;
    this.gathering.outage({ ...outage, recoverable: this.around.recoverable(), within: true });
    const mark = exact ? this.around.markMissing([tag], from + 1, Status.BadDataLost) : null;
    this.around.missed({ from, to, tags: [tag], mark });
  }

  /**
   * A tag cannot be read while its source is watched: an exception to the watch, until it can be again.
   * @returns whether that is new.
   */
  tagFault(tag: number, fault: Fault | null, at: number): boolean {
    const open = this.tagOutages.get(tag);
    if (fault && !open) {
      const outage: OutageSpan = {
        source: this.source,
        tag,
        from: at,
        to: null,
        cause: 'tag',
        ...fault,
        recoverable: false,
        within: false,
      };
      this.tagOutages.set(tag, outage);
      this.gathering.outage(outage);
      return true;
    } else if (!fault && open) {
      this.tagOutages.delete(tag);
      this.gathering.outage({ ...open, to: at });
    }
    return false;
  }

  /** The source went away; what is known of it already is told better, where it can be. */
  away({ message, code, status }: SourceAway, at: number, version: number): void {
    this.report(version);
    // The next watch starts where watching starts again, not where it ended.
    this.watchedFrom = null;
    if (!this.outage) {
      this.openOutage('source', message, code, status, this.after(at));
      return;
    }
    if (this.outage.code === code || this.outage.cause !== 'source') return;
    this.outage = { ...this.outage, sentence: message, code };
    this.gathering.outage(this.outage);
  }

  /** Watching ends for good; what is going on already goes on being said. */
  end(sentence: string, at: number): void {
    if (!this.outage) this.openOutage('collector', sentence, null, Status.BadOutOfService, this.after(at));
  }

  /**
   * The machine's clock was set. Time that it jumped over was watched by nobody; time that it shows a second time is
   * recorded twice, and later values stand over earlier ones.
   */
  clockStep({ expected, shown }: ClockStep, version: number): void {
    const [was, is] = [Math.round(expected * 1000), Math.round(shown * 1000)];
    const seconds = Math.round(Math.abs(is - was) / 1e5) / 10;
    const sentence =
      is > was
        ? `The clock of the collector’s machine jumped forward by ${seconds} s, or the machine was asleep.`
        : `The clock of the collector’s machine was set back by ${seconds} s: this time was recorded twice, and what was recorded later stands.`;
    this.report(version);
    const from = Math.min(was, is);
    const recoverable = is > was && this.around.recoverable();
    const common = { source: this.source, tag: null, code: null, recoverable, within: true } as const;
    this.gathering.outage({ ...common, from, to: Math.max(was, is), cause: 'clock', sentence });
    if (is > was) {
      const mark = this.around.markMissing(this.around.tagsNow(), from + 1, Status.BadNotConnected);
      this.around.missed({ from, to: is, tags: null, mark });
    }
    // Watching begins anew at what the clock shows now.
    this.watchedFrom = null;
    this.watchedUntil = null;
  }

  /** Hands the span watched since the last call to the gathering. @param version of the configuration that it was under. */
  report(version: number): void {
    const { source, watchedFrom: from, watchedUntil: to } = this;
    if (from === null || to === null || to <= from) return;
    this.gathering.watch({ source, version, from, to });
    this.watchedFrom = to;
  }

  private openOutage(
    cause: OutageSpan['cause'],
    sentence: string,
    code: string | null,
    status: number,
    markAt: number,
  ): void {
    this.outage = {
      source: this.source,
      tag: null,
      from: this.watchedUntil ?? markAt,
      to: null,
      cause,
      sentence,
      code,
      recoverable: this.around.recoverable(),
      within: false,
    };
    this.gathering.outage(this.outage);
    this.mark = this.around.markMissing(this.around.tagsNow(), markAt, status);
  }
}
