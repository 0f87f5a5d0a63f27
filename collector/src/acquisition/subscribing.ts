/** Acquisition by being told: a source that tells changes of its tags by itself. */
import type { ConfiguredTag, SourceState } from '@wide-ledger/contract';
import { SECOND } from '@wide-ledger/core';
import type { Listener, Sample, SourceAway, SubscribedSession } from '../kinds/kind.ts';
import type { Clock } from '../watching/clock.ts';
import type { Acquisition, AcquisitionEvents } from './acquisition.ts';

/** What a tag was told last, and when, in microseconds. */
interface Told {
  sample: Sample;
  at: number;
}

/** Follows the tags of one source, while it tells. */
export class Subscribing implements Acquisition<SubscribedSession> {
  private tags: readonly ConfiguredTag[] = [];
  private session: SubscribedSession | null = null;
  private readonly last = new Map<number, Told>();
  /** When the source was heard of last. */
  private heardAt = 0;

  /** What becomes of a loss: while the session is being proved, it is the proof that fails. */
  private losing: (error: SourceAway) => void = () => undefined;

  constructor(
    private readonly clock: Clock,
    private readonly events: AcquisitionEvents,
  ) {}

  arrange(tags: readonly ConfiguredTag[]): void {
    this.tags = tags;
    const staying = new Set(tags.map(({ id }) => id));
    for (const id of this.last.keys()) if (!staying.has(id)) this.last.delete(id);
    const { session } = this;
    if (session) this.follow(session).catch((error: unknown) => this.fail(session, error));
  }

  /** Begins to follow: what a source refuses as a whole it refuses now. */
  async prove(session: SubscribedSession): Promise<void> {
    this.session = session;
    this.heardAt = this.micros();
    let lost: SourceAway | null = null;
    this.losing = (error) => (lost = error);
    await this.follow(session);
    if (lost) throw lost as SourceAway;
  }

  start(session: SubscribedSession): void {
    this.session = session;
    this.losing = (error) => this.fail(session, error);
  }

  stop(): void {
    this.session = null;
    this.last.clear();
  }

  beginAnew(): void {
    this.last.clear();
    this.heardAt = this.micros();
  }

  readonly timing: SourceState['timing'] = {};

  private readonly micros = (): number => Math.round(this.clock.now() * 1000);

  private follow(session: SubscribedSession): Promise<void> {
    const listener: Listener = {
      changed: (samples) => {
        if (this.session === session) this.take(samples);
      },
      heard: () => {
        if (this.session === session) this.hear(session);
      },
      overflowed: (tag, lost) => {
        const sinceHeard = { from: this.heardAt, to: this.micros() };
        if (this.session === session) this.events.dropped(tag, lost ?? sinceHeard, lost !== null);
      },
      kept: (soon) => this.events.kept(soon),
      lost: (error) => {
        if (this.session === session) this.losing(error);
      },
    };
    return session.follow(this.tags, listener);
  }

  private take(samples: readonly Sample[]): void {
    this.clock.look();
    const at = this.micros();
    for (const sample of samples) this.last.set(sample.tag, { sample, at });
    this.events.read({ samples, stamp: at, until: at, missed: null });
  }

  /** Nothing else changed until now: what is silent for its longest time is told once more. */
  private hear(session: SubscribedSession): void {
    this.clock.look();
    const at = this.micros();
    this.heardAt = at;
    // A source whose clock differs stamps by its own: so does what is said in its name.
    const sourceTime =
      session.clockSkew === null || session.clockSkew === undefined ? null : at + Math.round(session.clockSkew * 1000);
    const samples: Sample[] = [];
    for (const { id, reading } of session.silenceTells === false ? [] : this.tags) {
      const told = this.last.get(id);
      if (!told || reading.longestSilenceSeconds === null) continue;
      if (at - told.at < reading.longestSilenceSeconds * SECOND) continue;
      told.at = at;
      samples.push({ ...told.sample, sourceTime });
    }
    this.events.read({ samples, stamp: at, until: at, missed: null });
  }

  private fail(session: SubscribedSession, error: unknown): void {
    if (this.session !== session) return;
    this.session = null;
    this.events.failed(error, this.heardAt);
  }
}
