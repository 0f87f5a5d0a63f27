/** Acquisition by asking: tags in groups of one pace, each read on its beats. */
import { AS_IT_ANSWERS, type ConfiguredTag, type SourceState } from '@wide-ledger/contract';
import type { PolledSession } from '../kinds/kind.ts';
import type { Clock } from '../watching/clock.ts';
import type { Acquisition, AcquisitionEvents, Read } from './acquisition.ts';
import { Beats, isOnBeat } from './beats.ts';
import { Pace } from './pace.ts';
import { Succession } from './succession.ts';
import { Timing } from './timing.ts';

/** What calls back when a group is to be read. */
type Beat = Pick<Pace, 'stop'>;

interface Group {
  /** Milliseconds; 0 is as fast as the source answers. */
  readonly interval: number;
  readonly aligned: boolean;
  tags: ConfiguredTag[];
  readonly timing: Timing;
  readonly beats: Beats;
  pace: Beat | null;
  busy: boolean;
  /** Whether a beat was missed since the last read because the source had not answered yet. */
  outrun: boolean;
}

const keyOf = ({ interval, aligned }: Pick<Group, 'interval' | 'aligned'>): string => `${interval} ${aligned}`;

const begin = (interval: number, aligned: boolean): Group => ({
  interval,
  aligned,
  tags: [],
  timing: new Timing(),
  beats: new Beats(interval * 1000),
  pace: null,
  busy: false,
  outrun: false,
});

/** Reads the tags of one source, while it runs. */
export class Polling implements Acquisition<PolledSession> {
  private groups: Group[] = [];
  private session: PolledSession | null = null;
  /** When anything was read last, in microseconds; null since reading began. */
  private lastRead: number | null = null;
  /** What was read of every group to see whether the source answers: where watching begins. */
  private proof: { session: PolledSession; reads: readonly Read[] } | null = null;

  constructor(
    private readonly clock: Clock,
    private readonly events: Pick<AcquisitionEvents, 'read' | 'failed'>,
  ) {}

  /** Takes the tags in their groups; a group that stays keeps its beats, so that its tags see no gap. */
  arrange(tags: readonly ConfiguredTag[]): void {
    const before = new Map(this.groups.map((group) => [keyOf(group), group]));
    const groups = new Map<string, Group>();
    for (const tag of tags) {
      const { intervalMilliseconds: interval, aligned } = tag.reading;
      const key = keyOf({ interval, aligned });
      let group = groups.get(key);
      if (!group) {
        // Its pace goes on: one that began anew just after a beat would leave that beat out.
        group = before.get(key) ?? begin(interval, aligned);
        group.tags = [];
        groups.set(key, group);
      }
      group.tags.push(tag);
    }
    for (const [key, group] of before) {
      if (groups.has(key)) continue;
      group.pace?.stop();
      group.pace = null;
    }
    this.groups = [...groups.values()];
    if (this.session) this.start(this.session);
  }

  /** Reads every group once: no tag counts as watched before it was read. @throws SourceAway */
  async prove(session: PolledSession): Promise<void> {
    const reads: Read[] = [];
    for (const { tags, interval } of this.groups) {
      const stamp = Math.round(this.clock.now() * 1000);
      const samples = await session.read(tags);
      reads.push({ samples, stamp, until: stamp + interval * 1000, missed: null });
    }
    // Only the last one vouches: by then all are known.
    this.proof = { session, reads: reads.map((read, i) => (i < reads.length - 1 ? { ...read, until: null } : read)) };
  }

  start(session: PolledSession): void {
    if (this.session !== session && this.proof?.session === session)
      for (const read of this.proof.reads) this.events.read(read);
    this.proof = null;
    this.session = session;
    for (const group of this.groups) {
      group.pace ??=
        group.interval === AS_IT_ANSWERS
          ? new Succession(() => this.scan(session, group, this.clock.now(), 0))
          : new Pace(
              group.interval,
              group.aligned,
              (due, slept) => void this.scan(session, group, due, slept),
              this.clock.now,
            );
    }
  }

  /** Reads no more; what comes next begins anew. */
  stop(): void {
    this.session = null;
    this.lastRead = null;
    for (const group of this.groups) {
      group.beats.forget();
      group.pace?.stop();
      group.pace = null;
    }
  }

  /** What comes next is the first beat of every group, though reading goes on. */
  beginAnew(): void {
    this.lastRead = null;
    for (const { beats } of this.groups) beats.forget();
  }

  get timing(): SourceState['timing'] {
    return Object.fromEntries(
      this.groups.map(({ interval, timing }) => [
        interval === AS_IT_ANSWERS ? 'as it answers' : `${interval} ms`,
        timing.summary,
      ]),
    );
  }

  private async scan(session: PolledSession, group: Group, due: number, slept: number): Promise<void> {
    this.clock.look();
    if (group.busy || this.session !== session) {
      // Without beats none can be missed.
      if (group.interval !== AS_IT_ANSWERS) group.timing.missed++;
      // Where beats were slept through it was this process that stood still, and says nothing about the source.
      group.outrun ||= group.busy && slept === 0;
      return;
    }
    group.busy = true;
    const { outrun } = group;
    group.outrun = false;
    const started = this.clock.now();
    const counted = performance.now();
    try {
      const samples = await session.read(group.tags);
      group.timing.note(started - due, performance.now() - counted);
      if (this.session !== session) return;
      // A read that comes too late for its beat was made when it was made.
      const onBeat = group.aligned && isOnBeat(due * 1000, started * 1000);
      const stamp = Math.round((onBeat ? due : started) * 1000);
      const missed = this.missedBefore(group, stamp, outrun);
      this.lastRead = Math.max(this.lastRead ?? stamp, stamp);
      this.events.read({ samples, stamp, until: stamp + group.interval * 1000, missed });
    } catch (error) {
      if (this.session === session) this.events.failed(error, Math.round(due * 1000));
    } finally {
      group.busy = false;
    }
  }

  /** Beats that were missed before a read: of every group, where nothing was read in between, else of its own tags. */
  private missedBefore(group: Group, stamp: number, outrun: boolean): Read['missed'] {
    const hole = group.beats.note(stamp);
    if (hole === null) return null;
    const silent = this.lastRead === null || this.lastRead <= hole.from + group.interval * 1000;
    // The other groups were silent for the same time: said once.
    if (silent) for (const other of this.groups) if (other !== group) other.beats.forget();
    return { ...hole, outrun, tags: silent ? null : group.tags.map(({ id }) => id) };
  }
}
