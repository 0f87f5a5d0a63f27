/** A connection to an MQTT broker as a far end has one: opened when it is needed, and what breaks on it in words. */
import { explain, networkFault } from '@wide-ledger/core';
import type { LinkRung } from '@wide-ledger/contract';
import { connectAsync, type IClientOptions, type MqttClient } from 'mqtt';
import { FarAway } from './farEnd.ts';
import { encryptionStep, networkSteps, walkRungs } from './rungs.ts';

/** Milliseconds. */
const PATIENCE = 10_000;

/** Where a broker is, and how it is signed in to. */
export interface BrokerPlace {
  readonly host: string;
  readonly port: number;
  readonly encrypted: boolean;
  readonly user: string;
}

export class BrokerLine {
  private client: MqttClient | null = null;

  constructor(
    private readonly place: BrokerPlace,
    private readonly password: string,
    /** Options of a connection that is being made, such as its last will. */
    private readonly options: () => Partial<IClientOptions> = () => ({}),
    /** What comes first on a connection that was made. */
    private readonly opened: (client: MqttClient) => Promise<void> = () => Promise.resolve(),
  ) {}

  get name(): string {
    return `${this.place.host}:${this.place.port}`;
  }

  /** @throws FarAway */
  async connected(): Promise<MqttClient> {
    if (this.client?.connected) return this.client;
    await this.close();
    const { host, port, encrypted, user } = this.place;
    try {
      const client = await connectAsync({
        host,
        port,
        protocol: encrypted ? 'mqtts' : 'mqtt',
        protocolVersion: 4,
        ...(user === '' ? {} : { username: user, password: this.password }),
        connectTimeout: PATIENCE,
        // The sender tries again, and knows from where.
        reconnectPeriod: 0,
        ...this.options(),
      });
      this.client = client;
      // What breaks is found by the next message.
      client.on('error', () => undefined);
      await this.opened(client);
      return client;
    } catch (error) {
      await this.close();
      throw this.away(error);
    }
  }

  /** Waits for work on the connection, as long as that stands and a broker may take. @throws FarAway */
  async during(client: MqttClient, work: () => Promise<unknown>): Promise<void> {
    let stop = (): void => undefined;
    const broken = new Promise<never>((_, fail) => {
      const closed = (): void => fail(Object.assign(new Error('closed'), { code: 'CLOSED' }));
      const timer = setTimeout(() => fail(Object.assign(new Error('late'), { code: 'NO_ANSWER' })), PATIENCE);
      client.once('close', closed);
      stop = () => {
        clearTimeout(timer);
        client.off('close', closed);
      };
    });
    try {
      await Promise.race([work(), broken]);
    } catch (error) {
      await this.close();
      throw this.away(error);
    } finally {
      stop();
    }
  }

  /** The way to it, rung by rung. */
  async *check(): AsyncGenerator<LinkRung> {
    const { host, port, encrypted, user } = this.place;
    yield* walkRungs([
      ...networkSteps({ host, port }),
      ['encryption', encryptionStep({ host, port }, encrypted)],
      [
        'sign-in',
        async () => {
          await this.connected();
          return { sentence: `The broker lets ${user === '' ? 'this link' : user} in.` };
        },
      ],
    ]);
  }

  async close(): Promise<void> {
    const { client } = this;
    this.client = null;
    await client?.endAsync(true).catch(() => undefined);
  }

  private away(error: unknown): FarAway {
    if (error instanceof FarAway) return error;
    const { message, code } = error as Error & { code?: string | number };
    const { host, port } = this.place;
    // Reasons of the broker itself are numbers (MQTT 3.1.1, 3.2.2.3).
    const says =
      typeof code === 'number'
        ? `The broker at ${host}:${port} refuses: ${message}.`
        : explain(networkFault(code ?? 'UNEXPECTED', { host, port }));
    return Object.assign(new FarAway(says), { code: String(code ?? 'UNEXPECTED') });
  }
}
