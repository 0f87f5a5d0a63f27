/** Acquisition by reading on: a record that somebody else writes, looked at again and again. */
import type { ConfiguredTag, SourceState } from '@wide-ledger/contract';
import type { Reached, RecordPart, RecordSession } from '../kinds/kind.ts';
import type { Clock } from '../watching/clock.ts';
import type { Acquisition, AcquisitionEvents } from './acquisition.ts';
import { Timing } from './timing.ts';

/** A record is looked at this often where no tag wants it more often, and at most this often. Milliseconds. */
const PACE = { standard: 5000, quickest: 500 };
/** While so many samples wait to be written nothing more is read: the record keeps the rest. */
const MOST_WAITING = 50_000;
const WAIT_MILLISECONDS = 100;
/** By so much a tag may have been meant to be read before its collector heard of it. Microseconds. */
const HEARD_LATE = 60_000_000;

/** What reading on stands in. */
export interface FollowingAround {
  /** How many samples wait to be written. */
  waiting(): number;
  /** Whether it is this collector's turn. */
  reads(): boolean;
}

/** Reads on in the record of one source, while it can be read. */
export class Following implements Acquisition<RecordSession> {
  private tags: readonly ConfiguredTag[] = [];
  private session: RecordSession | null = null;
  private timer: NodeJS.Timeout | null = null;
  private readonly counts = new Timing();

  /** @param reached when the collector ended; null: it was never read. */
  constructor(
    private readonly clock: Clock,
    private readonly events: Pick<AcquisitionEvents, 'read' | 'failed' | 'trouble' | 'vouched'>,
    private readonly around: FollowingAround,
    private reached: Reached | null,
  ) {}

  get notes(): Reached | null {
    return this.reached;
  }

  arrange(tags: readonly ConfiguredTag[]): void {
    this.tags = tags;
  }

  prove(session: RecordSession): Promise<void> {
    return session.look();
  }

  start(session: RecordSession): void {
    this.session = session;
    void this.run(session);
  }

  stop(): void {
    this.session = null;
    if (this.timer) clearTimeout(this.timer);
  }

  /** A record has times of its own: a clock that was set changes nothing of it. */
  beginAnew(): void {
    this.counts.missed = 0;
  }

  get timing(): SourceState['timing'] {
    const { summary } = this.counts;
    return summary.reads > 0 ? { [`${this.pace} ms`]: summary } : {};
  }

  private get pace(): number {
    const wanted = this.tags.map(({ reading }) => reading.intervalMilliseconds).filter((interval) => interval > 0);
    return Math.max(PACE.quickest, wanted.length > 0 ? Math.min(...wanted) : PACE.standard);
  }

  private async run(session: RecordSession): Promise<void> {
    while (this.session === session) {
      const due = this.clock.now();
      try {
        await this.readThrough(session, due);
      } catch (error) {
        if (this.session === session) this.events.failed(error, Math.round(due * 1000));
        return;
      }
      if (this.session === session) await this.later(Math.max(0, due + this.pace - this.clock.now()));
    }
  }

  /** Reads all that is there by now. */
  private async readThrough(session: RecordSession, due: number): Promise<void> {
    this.clock.look();
    this.reached ??= { cursor: await session.begin(), tags: [], behind: null, vouches: null };
    // Without tags it is left where it is; and where another collector records, this one sees whether it could.
    if (this.tags.length === 0 || !this.around.reads()) {
      await session.look();
      this.tell(session, { samples: [], more: false, troubles: [] }, this.reached);
      return;
    }
    // What comes behind the first part is not late: it was not due.
    let late = this.clock.now() - due;
    for (let more = true; more && this.session === session; late = 0) {
      if (this.around.waiting() >= MOST_WAITING) await this.later(WAIT_MILLISECONDS);
      else more = await this.readOn(session, late);
    }
  }

  /** @returns whether there is more to be read at once. */
  private async readOn(session: RecordSession, late: number): Promise<boolean> {
    const reached = withNewTags(this.reached!, this.tags, session.readsAll ? this.micros() - HEARD_LATE : null);
    const { behind } = reached;
    const tags = behind ? this.tags.filter(({ id }) => behind.tags.includes(id)) : this.tags;
    const started = performance.now();
    const part = await session.readOn(tags, behind?.cursor ?? reached.cursor);
    this.counts.note(Math.max(0, late), performance.now() - started);
    return this.tell(session, part, further(reached, part));
  }

  /** In one turn: what is noted of the record knows no more than what was told of it. @returns whether there is more. */
  private tell(session: RecordSession, part: Omit<RecordPart, 'cursor'>, reached: Reached): boolean {
    if (this.session !== session) return false;
    // Those that came later are through: all go on together.
    const caughtUp = this.reached?.behind !== null && reached.behind === null;
    const more = part.more || caughtUp;
    const stamp = this.micros();
    const { vouches } = reached;
    this.reached = more ? reached : { ...reached, vouches: null };
    for (const fault of part.troubles) this.events.trouble(fault);
    this.events.read({ samples: part.samples, stamp, until: more ? null : stamp, missed: null });
    if (vouches && !more) this.events.vouched(vouches.from, stamp, vouches.tags);
    return more;
  }

  private readonly micros = (): number => Math.round(this.clock.now() * 1000);

  private later(milliseconds: number): Promise<void> {
    return new Promise((done) => {
      this.timer = setTimeout(done, milliseconds);
    });
  }
}

/**
 * Tags that are read for the first time want what is there already, where that is wanted at all.
 * @param from since when they may have been meant to be read; null: only what comes is wanted.
 */
function withNewTags(reached: Reached, tags: readonly ConfiguredTag[], from: number | null): Reached {
  const known = new Set([...reached.tags, ...(reached.behind?.tags ?? [])]);
  const added = tags.map(({ id }) => id).filter((id) => !known.has(id));
  if (added.length === 0) return reached;
  if (from === null) return { ...reached, tags: [...reached.tags, ...added] };
  // The first ones are not behind anybody.
  if (reached.tags.length === 0) return { ...reached, tags: added, vouches: { from, tags: null } };
  const behind = [...(reached.behind?.tags ?? []), ...added];
  return { ...reached, behind: { tags: behind, cursor: {} }, vouches: { from, tags: behind } };
}

function further(reached: Reached, { cursor, more }: RecordPart): Reached {
  const { tags, behind } = reached;
  if (!behind) return { ...reached, cursor };
  return more
    ? { ...reached, behind: { ...behind, cursor } }
    : { ...reached, tags: [...tags, ...behind.tags], behind: null };
}
