/** Fetching what was missed from a source that kept it: in the background, call by call, and never in the way of what is live. */
import type {
  ConfiguredTag,
  RecoveryOrder,
  RecoverySettings,
  RecoverySpan,
  RecoveryState,
  WantedHole,
} from '@wide-ledger/contract';
import { newHole, nextTag, withHole, type Hole } from '@wide-ledger/core';
import { Gathering, type Gathered } from '../gathering/gathering.ts';
import { HistoryRefused, type Session } from '../kinds/kind.ts';
import type { Missed } from '../watching/watchBook.ts';
import { filledBy, refusedBy, settle, windowOf, type Manner } from './part.ts';

/** What recovering stands in. */
export interface RecoverySurroundings {
  readonly source: number;
  settings(): RecoverySettings;
  /** The tags of the source that are read at this moment. */
  tags(): ReadonlyMap<number, ConfiguredTag>;
  /** How it stands with a stretch, told along with whatever comes next. */
  tell(span: RecoverySpan): void;
  /**
   * Writes what was fetched to the spool, together with how far it got, both or neither.
   * @param commit from here on it has got that far; it gives back how to take that back.
   */
  keep(fetched: Gathered, commit: () => () => void): Promise<void>;
  /** Something went wrong that does not end it. */
  trouble(code: string, sentence: string): void;
}

/** What is remembered across a restart. */
export interface RecoveryNotes {
  readonly holes: readonly Hole[];
  /** What came of each order so far. */
  readonly ordered: readonly Omit<RecoveryOrder, 'left'>[];
}

/** After a call that failed while the connection stood. Milliseconds. */
const RETRY_MILLISECONDS = 5000;
/** How far back the source remembers is looked at this often. */
const LOOK_MILLISECONDS = 30_000;
/** So long the source's clock is waited for. */
const CLOCK_TRIES = 50;
const CLOCK_MILLISECONDS = 100;
/** What was fetched is written this often, or when it is so much. */
const WRITE_MILLISECONDS = 250;
const MOST_UNWRITTEN = 5_000;
/** So many orders that are done are told of: whoever gave them looks every second or so. */
const MOST_FINISHED = 20;

type HistorySession = Session & Required<Pick<Session, 'history'>>;

const later = (milliseconds: number): Promise<void> => new Promise((done) => setTimeout(done, milliseconds));

/** The recovery of one source. */
export class Recovery {
  private holes: readonly Hole[];
  private ordered: RecoveryNotes['ordered'];
  /** The same, as far as it is written: what a kill leaves. */
  private written: RecoveryNotes;
  /** What was fetched and is not written yet, and since when it waits. */
  private readonly fetched = new Gathering();
  private waitsSince: number | null = null;
  /** The one that is being filled: it takes up no others. */
  private busy: Hole | null = null;
  private session: HistorySession | null = null;
  private running = false;
  private values = 0;
  private calls = 0;
  /** When the oldest value is from that the source still has, by this machine's clock in milliseconds. */
  private reachesBack: number | null = null;
  private lookedAt = -Infinity;

  /** @param notes what was still to be fetched when the collector ended. */
  constructor(
    private readonly around: RecoverySurroundings,
    notes: RecoveryNotes,
  ) {
    this.holes = notes.holes;
    this.ordered = notes.ordered;
    this.written = notes;
  }

  get notes(): RecoveryNotes {
    return this.written;
  }

  /** What is going on, for people; null where the source keeps no past. */
  get state(): RecoveryState | null {
    const { holes, values, calls, reachesBack, orders } = this;
    const { mode, keepsHistory } = this.around.settings();
    if (!keepsHistory) return null;
    const since = holes.length === 0 ? null : Math.min(...holes.map(({ from }) => from)) / 1000;
    return { mode, holes: holes.length, since, values, calls, reachesBack, orders };
  }

  /** Orders that are worked on, each as far as it is, and the last ones that are done. */
  private get orders(): RecoveryOrder[] {
    const leftOf = (order: number): number =>
      this.holes
        .filter((hole) => hole.order === order)
        .reduce((sum, { tags, done }) => sum + (tags?.filter((tag) => tag > done).length ?? 1), 0);
    return this.ordered.map((one) => ({ ...one, left: leftOf(one.order) }));
  }

  /** Something was missed: it is fetched by itself, where that is wanted. */
  missed({ from, to, tags, mark }: Missed): void {
    if (to <= from || this.around.settings().mode !== 'by itself') return;
    this.add(newHole({ from, to }, tags, mark, this.around.tags().keys()));
  }

  /** Somebody wants these to be fetched; the same order once more changes nothing. */
  order(order: number, wanted: readonly WantedHole[]): void {
    if (this.ordered.some((one) => one.order === order)) return;
    const open = new Set(this.holes.map((hole) => hole.order));
    const done = this.ordered.filter((one) => !open.has(one.order)).slice(-MOST_FINISHED);
    const begun = { order, values: 0, calls: 0 };
    this.ordered = [...done, ...this.ordered.filter((one) => open.has(one.order)), begun];
    this.written = { ...this.written, ordered: [...this.written.ordered, begun] };
    for (const { tags, from, to } of wanted)
      this.add({ ...newHole({ from, to }, tags, null, this.around.tags().keys()), order });
  }

  /** An order is taken back. What was fetched stays. */
  forget(order: number): void {
    const { source } = this.around;
    for (const { from, to, tags } of this.holes.filter((hole) => hole.order === order))
      for (const tag of tags ?? [null]) this.around.tell({ source, tag, from, to, outcome: 'settled', sentence: '' });
    const without = <One extends { readonly order: number | null }>(list: readonly One[]): One[] =>
      list.filter((one) => one.order !== order);
    this.holes = without(this.holes);
    this.ordered = without(this.ordered);
    this.written = { holes: without(this.written.holes), ordered: without(this.written.ordered) };
  }

  private add(hole: Hole): void {
    const { source } = this.around;
    const others = this.holes.filter((one) => one !== this.busy);
    this.holes = [...(this.busy ? [this.busy] : []), ...withHole(others, hole)];
    this.written = { ...this.written, holes: [...this.written.holes, hole] };
    const { from, to } = hole;
    for (const tag of hole.tags ?? [null]) this.around.tell({ source, tag, from, to, outcome: 'wanted', sentence: '' });
    this.wake();
  }

  /** A connection stands: what is still missing is fetched, if the source keeps a past. */
  start(session: Session): void {
    this.session = session.history ? (session as HistorySession) : null;
    this.wake();
  }

  stop(): void {
    this.session = null;
  }

  /** Looks from time to time how far back the source remembers, by one of its tags. */
  look(): void {
    const { session } = this;
    const [tag] = this.around.tags().values();
    if (!session?.historyStart || !tag || performance.now() - this.lookedAt < LOOK_MILLISECONDS) return;
    this.lookedAt = performance.now();
    session.historyStart(tag).then(
      (start) => (this.reachesBack = start === null ? null : start / 1000 - (session.clockSkew ?? 0)),
      // The connection is gone: whoever waits for values says so.
      () => (this.reachesBack = null),
    );
  }

  private wake(): void {
    if (this.running || !this.session) return;
    this.running = true;
    const ended = async (): Promise<void> => {
      // What was fetched before the line went is written: a source may not hold it any more.
      await this.write(true).catch(() => undefined);
      this.running = false;
      this.busy = null;
      // A session that came while the last one was let go.
      if (this.session && this.holes.length > 0) this.wake();
    };
    void this.run().finally(() => void ended());
  }

  private async run(): Promise<void> {
    const { session } = this;
    while (session && this.session === session) {
      const hole = this.next();
      this.busy = hole;
      const id = hole ? nextTag(hole, this.around.tags().keys()) : undefined;
      const tag = id === undefined ? undefined : this.around.tags().get(id);
      const { mode } = this.around.settings();
      const wanted = mode === 'by itself' || (mode === 'on demand' && hole !== null && hole.order !== null);
      try {
        if (hole && tag && wanted) await this.fetch(session, hole, tag);
        else if (hole) this.settle(hole);
        await this.write(hole === null);
        if (hole === null) return;
      } catch (error) {
        if (this.session !== session) return;
        this.around.trouble('HISTORY', `Recovering: ${(error as Error).message}`);
        await later(RETRY_MILLISECONDS);
      }
    }
  }

  /** After each tag the most urgent one: what was missed may be overwritten soon, what somebody ordered comes after it. */
  private next(): Hole | null {
    const missed = this.holes.filter(({ order }) => order === null);
    const order = [...(missed.length > 0 ? missed : this.holes)].sort((a, b) => a.from - b.from);
    const newest = this.around.settings().newestFirst;
    // One that was begun is finished first: a source may forget it meanwhile.
    const begun = order.find(({ cursor }) => cursor !== null);
    return begun ?? (newest ? order.at(-1) : order[0]) ?? null;
  }

  /** Fetches what the source has of one tag, from where it was left. */
  private async fetch(session: HistorySession, begun: Hole, tag: ConfiguredTag): Promise<void> {
    const { newestFirst, valuesPerCall: most } = this.around.settings();
    const shift = await this.shiftOf(session);
    const manner = (): Manner => ({
      source: this.around.source,
      newestFirst,
      shift,
      startedAt: session.startedAt ?? null,
    });
    const window = windowOf(begun, shift);
    const from = newestFirst ? window.from : (begun.cursor ?? window.from);
    const to = newestFirst ? (begun.cursor ?? window.to) : window.to;
    let hole = begun;
    let asked = performance.now();
    try {
      for await (const part of session.history({ tag, from, to, most, newestFirst })) {
        // The line is gone, or whoever ordered it does not want it any more.
        if (this.session !== session || !this.holes.includes(hole)) return;
        hole = this.put(hole, filledBy(part, hole, tag, manner(), this.fetched));
        await this.write();
        await this.pace(asked);
        asked = performance.now();
      }
    } catch (error) {
      if (!(error instanceof HistoryRefused)) throw error;
      this.around.trouble(error.code, `${tag.name}: ${error.message}`);
      this.put(hole, refusedBy(error, hole, tag, manner(), this.fetched));
      await this.pace(asked);
    }
  }

  private settle(hole: Hole): void {
    settle(hole, this.around.source, this.fetched);
    this.busy = null;
    this.holes = this.holes.filter((one) => one !== hole);
    this.waitsSince ??= performance.now();
  }

  /** A hole is filled further. */
  private put(hole: Hole, next: Hole): Hole {
    const [values, calls] = [next.values - hole.values, next.calls - hole.calls];
    this.holes = this.holes.map((one) => (one === hole ? next : one));
    this.busy = next;
    this.ordered = this.ordered.map((one) =>
      one.order === hole.order ? { ...one, values: one.values + values, calls: one.calls + calls } : one,
    );
    this.values += values;
    this.calls += calls;
    this.waitsSince ??= performance.now();
    return next;
  }

  /**
   * Writes what was fetched, with how far it got: now and then, since a source gives few values a call, and a write takes
   * as long as a call. @param now whatever there is.
   */
  private async write(now = false): Promise<void> {
    const { waitsSince } = this;
    if (waitsSince === null) return;
    const due = performance.now() - waitsSince >= WRITE_MILLISECONDS || this.fetched.size >= MOST_UNWRITTEN;
    if (!now && !due) return;
    const fetched = this.fetched.take();
    try {
      await this.around.keep(fetched, () => {
        const before = this.written;
        this.written = { holes: this.holes, ordered: this.ordered };
        return () => {
          this.written = before;
        };
      });
      this.waitsSince = null;
    } catch (error) {
      this.fetched.putBack(fetched);
      throw error;
    }
  }

  /** The source's clock minus this machine's, in microseconds: its past is told by its clock. */
  private async shiftOf(session: HistorySession): Promise<number> {
    for (let tries = 0; session.clockSkew === null && tries < CLOCK_TRIES; tries++) await later(CLOCK_MILLISECONDS);
    return Math.round((session.clockSkew ?? 0) * 1000);
  }

  /** No more calls a second than the source can bear. @param asked when the last call was made. */
  private pace(asked: number): Promise<void> {
    const due = 1000 / this.around.settings().callsPerSecond;
    return later(Math.max(0, due - (performance.now() - asked)));
  }
}
