/** A plant's device in quick time: it measures, remembers so many values in a ring, and tells whoever can hear it. */
import { Status } from '@wide-ledger/core';
import { Ring } from '../../bench/src/index.ts';
import { SourceAway, type HistoryPart, type HistoryRequest, type Listener, type Sample } from '../src/index.ts';
import type { QuickTime } from './quickTime.ts';

export const TAGS = [1, 2, 3];
/** A subscription that hears nothing for this long is lost. */
const SILENCE_MILLISECONDS = 5000;

/** What the plant produced: of each tag one value a second, by the device's clock. */
export const valueOf = (tag: number, second: number): number => tag * 1_000_000 + (second % 100_000);

export const away = (): SourceAway => new SourceAway('Nothing answers.', 'CLOSED', Status.BadNoCommunication);

interface RingTag {
  readonly id: number;
  readonly low: null;
  readonly high: null;
}

/** The device: it measures every second while it is on, remembers so many values, and tells whoever can hear it. */
export class PlantDevice {
  on = true;
  line: 'whole' | 'cut' | 'stalled' = 'whole';
  private readonly variables = new Map<number, RingTag>(TAGS.map((id) => [id, { id, low: null, high: null }]));
  private readonly ring: Ring<RingTag>;
  private readonly subscribers = new Set<Subscriber>();
  private second: number;
  /** When it was switched on last, in microseconds by its clock. */
  startedAt: number;

  /** @param clockError in milliseconds. */
  constructor(
    private readonly time: QuickTime,
    readonly clockError: number,
    capacity: number,
  ) {
    this.ring = new Ring({ capacity, feeding: { by: 'time', milliseconds: 1000 } });
    this.second = Math.floor(this.now / 1000);
    this.startedAt = this.now * 1000;
    setInterval(() => this.look(), 50);
  }

  /** Milliseconds, by its clock. */
  private get now(): number {
    return this.time.wall() + this.clockError;
  }

  get reachable(): boolean {
    return this.on && this.line === 'whole';
  }

  /** What it still holds of a tag, in its seconds. */
  held(tag: number): number[] {
    return this.ring.of(this.variables.get(tag)!).map(({ time }) => time / 1000);
  }

  /** What was measured of every tag, in its seconds. */
  readonly seconds = new Set<number>();

  switchOff(): void {
    this.on = false;
  }

  switchOn(): void {
    this.on = true;
    this.startedAt = this.now * 1000;
    this.second = Math.floor(this.now / 1000);
  }

  /** Is off for a moment, and comes back with an empty memory. */
  restart(): void {
    this.switchOn();
    this.ring.clear();
  }

  subscribe(subscriber: Subscriber): void {
    this.subscribers.add(subscriber);
  }

  drop(subscriber: Subscriber): void {
    this.subscribers.delete(subscriber);
  }

  *history({ tag, from, to, most, newestFirst }: HistoryRequest): Generator<HistoryPart, void, void> {
    const all = this.held(tag.id);
    const inside = all.filter((second) => second * 1e6 >= from && second * 1e6 < to);
    const order = newestFirst ? inside.reverse() : inside;
    const reaches = all.some((second) => second * 1e6 <= from);
    for (let at = 0; at === 0 || at < order.length; at += most) {
      if (!this.reachable) throw away();
      const more = at + most < order.length;
      const tells = newestFirst ? !more : at === 0;
      const samples = order.slice(at, at + most).map((second) => sampleAt(tag.id, second));
      yield { samples, more, reachesBack: tells ? reaches : null };
    }
  }

  private look(): void {
    const until = Math.floor(this.now / 1000);
    // It goes on measuring while a test has stopped the collector's process.
    while (this.on && this.second < until) {
      this.second++;
      this.seconds.add(this.second);
      for (const variable of this.variables.values())
        this.ring.offer(variable, this.second * 1000, valueOf(variable.id, this.second));
      for (const subscriber of this.subscribers) subscriber.send(TAGS.map((tag) => sampleAt(tag, this.second)));
    }
    for (const subscriber of [...this.subscribers]) subscriber.look(this.line, this.on);
  }
}

const sampleAt = (tag: number, second: number): Sample => ({
  tag,
  value: valueOf(tag, second),
  status: Status.Good,
  sourceTime: second * 1e6,
  fault: null,
});

/** A subscription: what is on its way is held while the line swallows everything, and lost with the connection. */
export class Subscriber {
  private listener: Listener | null = null;
  private heardAt: number;
  private onItsWay: Sample[] = [];

  constructor(
    private readonly device: PlantDevice,
    private readonly time: QuickTime,
  ) {
    this.heardAt = time.counter();
  }

  follow(listener: Listener): void {
    this.listener = listener;
    this.heardAt = this.time.counter();
    this.device.subscribe(this);
  }

  send(samples: readonly Sample[]): void {
    this.onItsWay.push(...samples);
  }

  look(line: PlantDevice['line'], on: boolean): void {
    const silent = this.time.counter() - this.heardAt > SILENCE_MILLISECONDS;
    if (line === 'cut' || !on || silent) {
      this.device.drop(this);
      this.listener?.lost(away());
    } else if (line === 'whole' && this.onItsWay.length > 0) {
      this.heardAt = this.time.counter();
      this.listener?.changed(this.onItsWay.splice(0));
      this.listener?.heard();
    }
  }
}
