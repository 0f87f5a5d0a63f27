/** What is read of a source on its way: judged by its time, filtered, and marked where there is nothing. */
import { clockRule, type ConfiguredTag } from '@wide-ledger/contract';
import { Status, isGood } from '@wide-ledger/core';
import type { Gathering } from '../gathering/gathering.ts';
import type { Fault, Sample } from '../kinds/kind.ts';
import { Keeping, keptOf, type HeldNote, type Kept } from '../tagLife/keeping.ts';
import { SourceClocks, type ClockNotes } from '../watching/sourceClocks.ts';
import type { WatchBook } from '../watching/watchBook.ts';

/** Two clocks that differ by less agree. Milliseconds. */
export const SKEW_THAT_MATTERS = 500;

/** What is remembered of it across a restart. */
export interface IntakeNotes {
  /** How far ahead the source's clocks usually are. */
  readonly clocks?: ClockNotes;
  /** What was read and is held back by filters along lines. */
  readonly held?: readonly HeldNote[];
}

/** What an intake stands in. */
export interface IntakeSurroundings {
  /** Where it goes; another one when others begin to watch the same. */
  gathering(): Gathering;
  /** The tags that are read at this moment. */
  tags(): ReadonlyMap<number, ConfiguredTag>;
  /** The source's clock minus the collector's, in microseconds. */
  shift(): number;
  connection(): object;
  /** Whether the times are those of rows that somebody else wrote: these are judged where they are read. */
  isRecord(): boolean;
  /** @param at milliseconds */
  trouble(code: string, sentence: string, at: number): void;
  noteKept(): void;
}

const clockFault = (ahead: number): Fault => ({
  code: 'CLOCK_JUMP',
  sentence: `The source's clock jumped: it dates its values ${Math.round(ahead / 1000)} s further ahead than usual. They are kept at those times; nothing is known about the present.`,
});

export class Intake {
  private readonly keeping = new Keeping();
  private readonly clocks: SourceClocks;

  constructor(
    private readonly around: IntakeSurroundings,
    notes: IntakeNotes | null,
  ) {
    this.clocks = new SourceClocks(notes?.clocks ?? null);
  }

  get notes(): Required<IntakeNotes> {
    return { clocks: this.clocks.ahead, held: this.keeping.held };
  }

  /** Keeps what was held back when the collector ended. */
  goOn(held: readonly HeldNote[] = []): void {
    for (const one of keptOf(held)) if (this.around.tags().has(one.tag)) this.keep(one);
  }

  /** @param stamp when it was read, in microseconds. @param book learns what cannot be known of the tag */
  take({ tag: id, value, status: told, sourceTime, fault: given }: Sample, stamp: number, book: WatchBook): void {
    const tag = this.around.tags().get(id);
    if (!tag) return;
    const jump = this.jumpOf(id, sourceTime, stamp);
    const fault = jump === null ? given : clockFault(jump);
    // Values of which something is doubtful come all the same: they are told of, and are no outage. What is dated ahead
    // says nothing of now.
    const lacking = value === null || jump !== null ? fault : null;
    const isNews = book.tagFault(id, lacking, stamp);
    if (fault && (isNews || lacking === null))
      this.around.trouble(fault.code, `${tag.name}: ${fault.sentence}`, stamp / 1000);
    if (jump !== null && isNews) this.markMissing([id], stamp, Status.BadNoData);
    const isDoubtful = jump !== null && isGood(told) && clockRule(this.around.connection()) === 'uncertain';
    const status = isDoubtful ? Status.Uncertain : told;
    const time = sourceTime ?? stamp;
    // Within time that counts as not watched nothing says that a value held: each is kept.
    if (book.isGap(time - this.around.shift())) this.release(id);
    for (const kept of this.keeping.take(tag, time, value, status, fault)) {
      this.around.noteKept();
      this.keep(kept);
    }
  }

  private jumpOf(tag: number, sourceTime: number | null, stamp: number): number | null {
    if (sourceTime === null || this.around.isRecord()) return null;
    return this.clocks.jumpOf(tag, sourceTime / 1000, stamp / 1000);
  }

  /**
   * Says that tags have no value from an instant on. A source whose clock differs stamps by its own: so does what is said
   * in its name. Clocks that agree but for a little may stamp what was read last a little later: the mark is behind it.
   * @returns the time of the mark, by the source's clock
   */
  markMissing(tags: Iterable<number>, at: number, status: number, into = this.around.gathering()): number {
    const named = [...tags];
    const begin = at + this.around.shift();
    const last = named.map((tag) => this.keeping.lastOf(tag)).filter((time) => time < begin + SKEW_THAT_MATTERS * 1000);
    const mark = last.reduce((latest, time) => Math.max(latest, time + 1), begin);
    for (const tag of named) {
      this.release(tag, into);
      into.sample(tag, mark, null, status);
    }
    return mark;
  }

  /** The last kept value of each tag, as of a moment. */
  restate(into: Gathering, at: number): void {
    for (const known of this.keeping.restated(at + this.around.shift() + 1))
      if (this.around.tags().has(known.tag)) this.keep(known, into);
  }

  /** The next sample of each tag is kept, whatever it is, and what was held back. */
  releaseAll(): void {
    for (const held of this.keeping.forgetAll()) this.keep(held);
  }

  private release(tag: number, into = this.around.gathering()): void {
    const held = this.keeping.forget(tag);
    if (held) this.keep(held, into);
  }

  private keep({ tag, time, given, status }: Kept, into = this.around.gathering()): void {
    into.sample(tag, time, given, status);
  }
}
