/** What comes of a broker, told in one go to who listens: values, that the line was heard of, and how it was lost. */
import type { MqttClient } from 'mqtt';
import type { Listener, Sample } from '../kind.ts';
import type { Place } from '../knock.ts';
import { away } from './broker.ts';

/** A line on which much comes is heard of once in so long. Milliseconds. */
const HEARD_EVERY = 1000;

export class Telling {
  /** Null until it is known what is wanted: what is ready by then waits. */
  listener: Listener | null = null;
  private ready: Sample[] = [];
  private flushing: NodeJS.Immediate | null = null;
  private heardAt = -Infinity;
  private closing = false;
  private following: (listener: Listener) => void = () => undefined;
  private readonly followed = new Promise<Listener>((done) => (this.following = done));

  constructor(private readonly place: Place) {}

  /** Listens to a client before it connects. */
  attach(client: MqttClient): void {
    client.on('packetreceive', () => this.hear());
    let said: unknown = { code: 'CLOSED' };
    client.on('error', (error) => (said = error));
    client.on('disconnect', ({ reasonCode }) => (said = { code: reasonCode }));
    client.on('close', () => {
      if (this.closing) return;
      // What had come by then was acknowledged: it is told before nobody listens any more.
      this.flush();
      this.listener?.lost(away(said, this.place));
    });
  }

  tell(sample: Sample): void {
    this.ready.push(sample);
    this.flushing ??= setImmediate(() => this.flush());
  }

  /** What waited until it was known what is wanted has been told: from now on it may be acknowledged. */
  follow(listener: Listener): void {
    this.following(listener);
  }

  /** Resolves once all that came by now is told, and what was told is on the disk. */
  async kept(soon: boolean): Promise<void> {
    const listener = await this.followed;
    this.flush();
    await listener.kept(soon);
  }

  /** Whatever came is told; what comes from now on is not, nor how the line ends. */
  close(): void {
    this.closing = true;
    this.flush();
  }

  private hear(): void {
    if (!this.listener || performance.now() - this.heardAt < HEARD_EVERY) return;
    this.heardAt = performance.now();
    this.flush();
    this.listener.heard();
  }

  private flush(): void {
    if (this.flushing) clearImmediate(this.flushing);
    this.flushing = null;
    const samples = this.ready;
    if (samples.length === 0 || !this.listener) return;
    this.ready = [];
    this.listener.changed(samples);
  }
}
