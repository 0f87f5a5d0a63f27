/**
 * Telling edge nodes that their host is there: they may keep what they have to tell until it is. As Sparkplug 3.0 has it
 * (5.3, 6.4.10; from memory): a retained message on a topic of the host's own, and the same as last will for its end.
 */
import { SPARKPLUG_NAMESPACE } from '@wide-ledger/core';
import type { IClientOptions, MqttClient } from 'mqtt';

const RETAINED = { qos: 1, retain: true } as const;

export class HostState {
  readonly topic: string;
  readonly will: NonNullable<IClientOptions['will']>;
  /** By which an end is told to be that of this connection, and of no earlier one. */
  private readonly since = Date.now();
  private isThere = false;

  constructor(name: string) {
    this.topic = `${SPARKPLUG_NAMESPACE}/STATE/${name}`;
    this.will = { topic: this.topic, payload: this.said(false), ...RETAINED };
  }

  /** Once it listens, and not before: what is told then would be missed. */
  async present(client: MqttClient): Promise<void> {
    this.isThere = true;
    await client.publishAsync(this.topic, this.said(true), RETAINED);
  }

  /** A will of an earlier connection may come late: whoever is there says so again. */
  hear(payload: Buffer, client: MqttClient | null): void {
    if (!client || !this.isThere || payload.equals(this.said(true))) return;
    void client.publishAsync(this.topic, this.said(true), RETAINED).catch(() => undefined);
  }

  /** Who leaves in order leaves no will: it says so itself. */
  leave(client: MqttClient): void {
    if (!this.isThere) return;
    this.isThere = false;
    client.publish(this.topic, this.said(false), RETAINED, () => undefined);
  }

  private said(online: boolean): Buffer {
    return Buffer.from(JSON.stringify({ online, timestamp: this.since }));
  }
}
