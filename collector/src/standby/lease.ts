/**
 * Whose turn it is to record a source that several collectors read. All of them read; the one that holds the lease hands
 * on what it reads, and the others hold theirs for a while. When the lease changes hands, the new holder goes on from
 * where the watch of the old one ended, so that there is no hole.
 */
import type { LeaseOrder } from '@wide-ledger/contract';
import { Gathering } from '../gathering/gathering.ts';
import type { SourceNotes } from '../watching/watchBook.ts';
import { Reserve, gatheredAfter, watchBegin, type Beating, type Held } from './reserve.ts';

/** What is remembered of it across a restart. */
export interface LeaseNotes {
  readonly holds: boolean;
  readonly epoch: number;
}

/** What a lease needs of the source that it is about. */
export interface SharedSource extends Beating {
  /** Hands the last kept value of each tag to a gathering, as of a moment; in microseconds. */
  restate(into: Gathering, at: number): void;
  /** The watch goes on between two moments: no beat lies there that nobody read. */
  joined(from: number, to: number, into: Gathering): void;
  /** Nobody watched between two moments. */
  leftUnwatched(from: number, to: number, into: Gathering): void;
}

/** What a standby holds is of the last so many milliseconds: longer than it takes the server to notice and to say so. */
const KEPT = 120_000;
/** A holder that loses the source waits for so long before it says so: another one may still watch it. */
const GRACE = 4_000;
/** After a start nobody knows whose turn it is: so long the server is waited for, by whoever held the lease and by others. */
const PATIENCE = { held: 3_000, stoodBy: 30_000 };
/** A process that did nothing for so long may have lost its turn meanwhile: it asks before it hands on anything. */
const SLEPT = 2_000;
/** A standby that hears nothing of the server for so long hands on what it reads: the holder may be gone as well. */
const ALONE = 30_000;
/** A reserve that begins later than this after the other's watch ended leaves a hole, if a beat lies in between. Microseconds. */
const JOINED = 1_000_000;

/** Alone: nobody else was heard of. Asks: after a start, until the server says. */
type State = 'alone' | 'asks' | 'holds' | 'stands by';

export class Lease {
  private state: State;
  private epoch: number;
  private readonly own = new Gathering();
  private readonly reserve = new Reserve();
  /** How the book of watches stood with what was handed on last. */
  private handedOn: SourceNotes | null = null;
  private heardAt: number;
  /** Whether another collector is said to be watching the source. */
  private covered = false;
  /** How it stood before this collector has to ask: at its start, or before it slept. */
  private before: LeaseNotes | null;
  /** Since when it asks: what was asked for before says nothing. */
  private asksSince: number;
  private lookedAt: number;

  /**
   * @param shared where what is handed on goes.
   * @param counter milliseconds, never set. @param wall the clock, in microseconds.
   */
  constructor(
    private readonly shared: Gathering,
    remembered: LeaseNotes | null,
    notes: SourceNotes | null,
    private readonly counter: () => number,
    private readonly wall: () => number,
  ) {
    this.before = remembered;
    this.state = remembered ? 'asks' : 'alone';
    this.epoch = remembered?.epoch ?? 0;
    this.handedOn = remembered ? notes : null;
    this.heardAt = this.asksSince = this.lookedAt = counter();
  }

  /** Where what is read of the source goes. */
  get gathering(): Gathering {
    return this.state === 'alone' ? this.shared : this.own;
  }

  /** Whether what is missed is this collector's to fetch: also while it asks, when it was its turn before. */
  get isMine(): boolean {
    return this.state === 'alone' || this.heldUntilNow;
  }

  get isShared(): boolean {
    return this.state !== 'alone';
  }

  /** What a restart needs to know: of the watches no more than what was handed on. @param notes as the book stands. */
  noted<Notes extends SourceNotes>(notes: Notes): Notes & { readonly lease?: LeaseNotes } {
    if (this.state === 'alone') return notes;
    const {
      watchedUntil = null,
      outage = null,
      mark = null,
      tagOutages = [],
      record = notes.record,
    } = this.handedOn ?? {};
    const lease = { holds: this.heldUntilNow, epoch: this.epoch };
    return { ...notes, ...(record && { record }), watchedUntil, outage, mark, tagOutages, lease };
  }

  /**
   * The server says whose turn it is; nothing where it knows of nobody else.
   * @param askedAt when it was asked, by the counter
   */
  told(order: LeaseOrder | undefined, source: SharedSource, askedAt: number): void {
    this.noticeSleep();
    if (this.state === 'asks' && askedAt < this.asksSince) return;
    this.heardAt = this.counter();
    if (!order) {
      if (this.state !== 'alone') this.handOnAll();
      this.state = 'alone';
      return;
    }
    this.covered = order.ready;
    if (!order.holds) this.state = 'stands by';
    else if (order.epoch === this.epoch && this.heldUntilNow) this.state = 'holds';
    else if (this.state === 'alone') this.state = 'holds';
    else this.takeOver(order.from, source);
    this.epoch = order.epoch;
  }

  private get heldUntilNow(): boolean {
    return this.state === 'holds' || (this.state === 'asks' && this.before!.holds);
  }

  /** A holder that stood still for a while holds back what it reads until it has asked anew. */
  private noticeSleep(): void {
    const now = this.counter();
    if (this.state === 'holds' && now - this.lookedAt >= SLEPT) {
      this.before = { holds: true, epoch: this.epoch };
      this.state = 'asks';
      this.heardAt = this.asksSince = now;
    }
    this.lookedAt = now;
  }

  /** Hands on what may be, holds the rest. @param notes as the book of watches stands with what was gathered. */
  pass(notes: SourceNotes, source: SharedSource): void {
    this.noticeSleep();
    if (this.state === 'alone') return;
    const now = this.counter();
    if (!this.own.isEmpty) {
      const { watchedUntil, outage, mark = null, tagOutages, record } = notes;
      const held = { watchedUntil, outage, mark, tagOutages, ...(record && { record }) };
      this.reserve.add({ at: now, gathered: this.own.take(), notes: held });
    }
    const silent = now - this.heardAt;
    if (this.state === 'asks' && silent > (this.before!.holds ? PATIENCE.held : PATIENCE.stoodBy)) this.state = 'holds';
    if (this.state === 'stands by' && silent > ALONE) this.takeOver(Math.round(this.wall() - silent * 1000), source);
    if (this.state === 'holds') this.handOn(this.reserve.release(this.covered ? now - GRACE : Infinity));
    else this.reserve.forget(now - KEPT);
  }

  /** The collector ends: what it says of that goes on where no other watches the source. */
  end(notes: SourceNotes, source: SharedSource): void {
    this.pass(notes, source);
    if (this.state === 'holds' && !this.covered) this.handOnAll();
  }

  private handOnAll(): void {
    this.handOn(this.reserve.take());
    this.handOn([{ at: 0, gathered: this.own.take(), notes: this.handedOn ?? NOTHING_KNOWN }]);
  }

  private handOn(held: Iterable<Held>): void {
    for (const { gathered, notes } of held) {
      this.shared.add(gathered);
      this.handedOn = notes;
    }
  }

  /** @param from where the watch of the other ended; null: nobody has watched yet. */
  private takeOver(from: number | null, source: SharedSource): void {
    this.state = 'holds';
    if (from === null) return;
    const held = this.reserve.take().map((one) => ({ ...one, gathered: gatheredAfter(one.gathered, from, source) }));
    const begin = watchBegin(held.map(({ gathered }) => gathered)) ?? this.wall();
    if (begin - from > Math.max(JOINED, 1.5 * source.pace)) source.leftUnwatched(from, begin, this.shared);
    else {
      // Whatever the other said last of a tag, from here on it is what this one knows.
      source.restate(this.shared, from);
      source.joined(from, begin, this.shared);
    }
    this.handOn(held);
  }
}

const NOTHING_KNOWN: SourceNotes = { watchedUntil: null, outage: null, mark: null, tagOutages: [] };
