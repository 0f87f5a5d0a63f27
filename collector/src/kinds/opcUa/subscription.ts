/** Values by subscription: the server samples and tells what changed (OPC 10000-4, 5.12 and 5.13). */
import type { ClientMonitoredItemBase, ClientSubscription, DataValue } from 'node-opcua-client';
import { awayByNetwork } from '../away.ts';
import type { Listener, Sample, SourceAway, SubscribedSession, TagOf } from '../kind.ts';
import type { Approach } from './connecting.ts';
import { awayByStatus } from './faults.ts';
import { Standing } from './standing.ts';
import { filterOf, isFilterRefused, serverWidth } from './filter.ts';
import { faultOf, hasOverflown, lostBefore, sampleOf, timeOf } from './values.ts';

/** A server that has nothing to say says so this often. Milliseconds. */
const KEEP_ALIVE = 1000;
/** A server that hears nothing drops the subscription after so many keep-alives. */
const LIFETIME_KEEP_ALIVES = 60;
/** Nothing was heard for this long, or for three keep-alives: the server is gone. Milliseconds. */
const SILENCE = 5000;
/** Most items that are made by one request: servers limit it, 1,000 is common practice (no source). */
const AT_ONCE = 1000;

type Item = ClientMonitoredItemBase & { terminate(): Promise<void> };

interface Followed {
  tag: TagOf<'opc-ua'>;
  readonly key: string;
  readonly item: Item | null;
  /** When its last value is from, by its source's clock in microseconds. */
  last: number | null;
}

/** How the server is asked to watch a value: how often, and how wide a deadband it keeps. */
interface Watching {
  readonly interval: number;
  readonly width: number | null;
}
const keyOf = ({ reading: { address } }: TagOf<'opc-ua'>, { interval, width }: Watching): string =>
  `${address.node} ${interval} ${width}`;

export class OpcUaSubscription extends Standing implements SubscribedSession<'opc-ua'> {
  readonly acquires = 'subscription';
  private readonly followed = new Map<number, Followed>();
  private listener: Listener | null = null;
  private pending: Sample[] = [];
  private heardAt = performance.now();
  private lookedAt = performance.now();
  private readonly watchdog: NodeJS.Timeout;

  private constructor(
    approach: Approach,
    private readonly subscription: ClientSubscription,
  ) {
    super(approach);
    subscription.on('keepalive', () => this.hear());
    subscription.on('status_changed', (status) => this.end(awayByStatus(status)));
    subscription.on('terminated', () => this.end(awayByNetwork(approach.place.host, approach.place.port, 'CLOSED')));
    this.watchdog = setInterval(() => this.watch(), KEEP_ALIVE);
  }

  /** @throws SourceAway, also where the server does not offer subscriptions. */
  static async begin(approach: Approach): Promise<OpcUaSubscription> {
    const { publishingMilliseconds } = approach.connection;
    const keepAlives = Math.max(1, Math.round(KEEP_ALIVE / publishingMilliseconds));
    const subscription = await approach.attempt(
      approach.session!.createSubscription2({
        requestedPublishingInterval: publishingMilliseconds,
        requestedMaxKeepAliveCount: keepAlives,
        requestedLifetimeCount: keepAlives * LIFETIME_KEEP_ALIVES,
        maxNotificationsPerPublish: 0,
        publishingEnabled: true,
        priority: 1,
      }),
    );
    return new OpcUaSubscription(approach, subscription);
  }

  async follow(tags: readonly TagOf<'opc-ua'>[], listener: Listener): Promise<void> {
    this.listener = listener;
    const wanted = new Map(tags.map((tag) => [tag.id, tag]));
    const leaving: Item[] = [];
    for (const [id, one] of this.followed) {
      const tag = wanted.get(id);
      if (tag && keyOf(tag, this.watchingOf(tag)) === one.key) {
        // Its range or its scaling may be another: the server need not know.
        one.tag = tag;
        wanted.delete(id);
        continue;
      }
      this.followed.delete(id);
      if (one.item) leaving.push(one.item);
    }
    await Promise.all(leaving.map((item) => item.terminate().catch(() => undefined)));
    const alike = new Map<string, { watching: Watching; tags: TagOf<'opc-ua'>[] }>();
    for (const tag of wanted.values()) {
      const watching = this.watchingOf(tag);
      const key = `${watching.interval} ${watching.width}`;
      const group = alike.get(key) ?? { watching, tags: [] };
      group.tags.push(tag);
      alike.set(key, group);
    }
    for (const { watching, tags: group } of alike.values()) {
      for (let at = 0; at < group.length; at += AT_ONCE) await this.monitor(watching, group.slice(at, at + AT_ONCE));
    }
  }

  private watchingOf(tag: TagOf<'opc-ua'>): Watching {
    const { serverDeadband = false } = this.approach.connection;
    return { interval: tag.reading.intervalMilliseconds, width: serverDeadband ? serverWidth(tag) : null };
  }

  /** @param asked how it was to be watched first: without a deadband now, where the server keeps none. */
  private async monitor(watching: Watching, tags: readonly TagOf<'opc-ua'>[], asked = watching): Promise<void> {
    const { library, connection } = this.approach;
    const filter = watching.width === null ? {} : { filter: filterOf(library, watching.width) };
    const group = await this.approach.attempt(
      this.subscription.monitorItems(
        tags.map((tag) => ({ nodeId: tag.reading.address.node, attributeId: library.AttributeIds.Value })),
        { samplingInterval: watching.interval, queueSize: connection.queueSize, discardOldest: true, ...filter },
        library.TimestampsToReturn.Both,
      ),
    );
    const refused: Sample[] = [];
    const unfiltered: TagOf<'opc-ua'>[] = [];
    group.monitoredItems.forEach((item, i) => {
      const tag = tags[i]!;
      const status = item.statusCode;
      const isGood = status.value >>> 30 === 0;
      if (watching.width !== null && isFilterRefused(status.name)) {
        unfiltered.push(tag);
        return;
      }
      const followed: Followed = { tag, key: keyOf(tag, asked), item: isGood ? item : null, last: null };
      this.followed.set(tag.id, followed);
      if (isGood) item.on('changed', (value: DataValue) => this.take(followed, value));
      else refused.push({ tag: tag.id, value: null, status: status.value, sourceTime: null, fault: faultOf(status) });
    });
    if (refused.length > 0) this.listener?.changed(refused);
    if (unfiltered.length > 0) await this.monitor({ ...watching, width: null }, unfiltered, asked);
  }

  private take(followed: Followed, value: DataValue): void {
    if (this.followed.get(followed.tag.id) !== followed) return;
    if (hasOverflown(value)) {
      this.handOn();
      this.listener?.overflowed(followed.tag.id, lostBefore(value, followed.last));
    }
    // All that one message holds is handed on together.
    if (this.pending.length === 0) setImmediate(() => this.hear());
    this.pending.push(sampleOf(followed.tag, value, this.approach.library));
    followed.last = timeOf(value) ?? followed.last;
  }

  private handOn(): void {
    const samples = this.pending;
    this.pending = [];
    if (samples.length > 0) this.listener?.changed(samples);
  }

  private hear(): void {
    this.heardAt = performance.now();
    this.handOn();
    this.listener?.heard();
  }

  private watch(): void {
    const now = performance.now();
    // A process that stood still heard nothing either: what arrived meanwhile is read first.
    const stood = now - this.lookedAt > 2 * KEEP_ALIVE;
    this.lookedAt = now;
    if (stood) this.heardAt = Math.max(this.heardAt, now - KEEP_ALIVE);
    const patience = Math.max(SILENCE, 3 * this.approach.connection.publishingMilliseconds);
    if (now - this.heardAt > patience)
      this.end(awayByNetwork(this.approach.place.host, this.approach.place.port, 'SILENT'));
  }

  protected lost(error: SourceAway): void {
    clearInterval(this.watchdog);
    this.listener?.lost(error);
  }

  override close(): void {
    clearInterval(this.watchdog);
    this.listener = null;
    super.close();
  }
}
