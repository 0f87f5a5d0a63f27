/** The ways in which values come of sessions, put together: by asking, by being told, by reading on. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import type { Reached, Session } from '../kinds/kind.ts';
import type { Clock } from '../watching/clock.ts';
import type { Acquisition, AcquisitionEvents } from './acquisition.ts';
import { Following, type FollowingAround } from './following.ts';
import { Polling } from './polling.ts';
import { Subscribing } from './subscribing.ts';

export class Acquisitions {
  private readonly ways: {
    readonly poll: Polling;
    readonly subscription: Subscribing;
    readonly record: Following;
  };

  /** @param reached how far the source was read, where it is a record; null: never. */
  constructor(clock: Clock, events: AcquisitionEvents, around: FollowingAround, reached: Reached | null) {
    this.ways = {
      poll: new Polling(clock, events),
      subscription: new Subscribing(clock, events),
      record: new Following(clock, events, around, reached),
    };
  }

  /** The way in which values come of a session. */
  of(session: Session): Acquisition<Session> {
    return this.ways[session.acquires];
  }

  /** How far the source is read, where it is a record. */
  get reached(): Reached | null {
    return this.ways.record.notes;
  }

  arrange(tags: readonly ConfiguredTag[]): void {
    for (const way of this.all) way.arrange(tags);
  }

  stop(): void {
    for (const way of this.all) way.stop();
  }

  beginAnew(): void {
    for (const way of this.all) way.beginAnew();
  }

  private get all(): readonly Acquisition<never>[] {
    return Object.values(this.ways);
  }
}
