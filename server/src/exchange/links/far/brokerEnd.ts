/**
 * An MQTT broker as the far end of a link: a message for each value, acknowledged by the broker (QoS 1). A broker keeps no
 * position, so the near end does: what was on its way when a server was killed comes twice, and who listens tells it by its
 * tag and time.
 */
import type { BrokerEnd as Given, CarriedTag, CarriedTagsAnswer, LinkRung } from '@wide-ledger/contract';
import { Status, explain, networkFault, payloadOf, topicOf, type ToldValue } from '@wide-ledger/core';
import { connectAsync, type MqttClient } from 'mqtt';
import { FarAway, type CarriedPart, type FarEnd, type FarPosition, type Stretch, type Taken } from './farEnd.ts';
import { encryptionStep, networkSteps, walkRungs } from './rungs.ts';
import { qualityOf, rowAt, timeOf, type Row } from './toldRows.ts';

/** Milliseconds. */
const PATIENCE = 10_000;
/** Messages that are on their way at a time. */
const ON_THEIR_WAY = 500;

/** Where the near end stands, kept by itself. */
export interface KeptPosition {
  readonly epoch: number;
  readonly position: number;
  readonly lastNumber: number;
}

/** A value as it is told. */
export const toldOf = (row: Row): ToldValue => ({
  name: row.tag.name,
  place: row.tag.place,
  unit: row.tag.unit,
  time: timeOf(row),
  value: row.text ?? row.value,
  status: row.status,
  quality: qualityOf(row),
});

export class BrokerEnd implements FarEnd {
  private client: MqttClient | null = null;

  /** @param kept where the near end says it stands. @param told the link's tags by its numbers. */
  constructor(
    private readonly given: Given,
    private readonly password: string,
    private readonly kept: () => Promise<KeptPosition>,
    private readonly told: () => Promise<ReadonlyMap<number, CarriedTag>>,
  ) {}

  async position(): Promise<FarPosition> {
    await this.connected();
    const { host, port } = this.given;
    return { ...(await this.kept()), print: '', site: null, name: `${host}:${port}` };
  }

  tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer> {
    return Promise.resolve({ results: tags.map(({ number }) => ({ number, refused: null })) });
  }

  async entries({ entries, samples }: Stretch): Promise<Taken> {
    const client = await this.connected();
    const tags = await this.told();
    let bytes = 0;
    for (const batch of batchesOf(entries, tags)) {
      const messages = batch.map((row): [topic: string, payload: string] => [
        topicOf(this.given.topic, row.tag),
        payloadOf(this.given.payload, toldOf(row)),
      ]);
      bytes += messages.reduce((sum, [topic, payload]) => sum + topic.length + Buffer.byteLength(payload), 0);
      await this.publishing(client, messages);
    }
    return { accepted: samples, setAside: 0, bytes };
  }

  async *check(): AsyncGenerator<LinkRung> {
    const { host, port, encrypted, user } = this.given;
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

  private async connected(): Promise<MqttClient> {
    if (this.client?.connected) return this.client;
    await this.close();
    const { host, port, encrypted, user } = this.given;
    try {
      this.client = await connectAsync({
        host,
        port,
        protocol: encrypted ? 'mqtts' : 'mqtt',
        protocolVersion: 4,
        ...(user === '' ? {} : { username: user, password: this.password }),
        connectTimeout: PATIENCE,
        // The sender tries again, and knows from where.
        reconnectPeriod: 0,
      });
      // What breaks is found by the next message.
      this.client.on('error', () => undefined);
      return this.client;
    } catch (error) {
      throw this.away(error);
    }
  }

  private async publishing(client: MqttClient, messages: readonly (readonly [string, string])[]): Promise<void> {
    const { retain } = this.given;
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
      const taken = messages.map(([topic, payload]) => client.publishAsync(topic, payload, { qos: 1, retain }));
      await Promise.race([Promise.all(taken), broken]);
    } catch (error) {
      await this.close();
      throw this.away(error);
    } finally {
      stop();
    }
  }

  private away(error: unknown): FarAway {
    const { message, code } = error as Error & { code?: string | number };
    const { host, port } = this.given;
    // Reasons of the broker itself are numbers (MQTT 3.1.1, 3.2.2.3).
    const says =
      typeof code === 'number'
        ? `The broker at ${host}:${port} refuses: ${message}.`
        : explain(networkFault(code ?? 'UNEXPECTED', { host, port }));
    return Object.assign(new FarAway(says), { code: String(code ?? 'UNEXPECTED') });
  }
}

/** The values of entries in their order, so many at a time; what was removed has no message. */
function* batchesOf(entries: readonly CarriedPart[], tags: ReadonlyMap<number, CarriedTag>): Generator<Row[]> {
  let batch: Row[] = [];
  for (const { frame } of entries) {
    for (let i = 0; i < frame.times.length; i++) {
      const tag = tags.get(frame.tags![i]!);
      if (!tag || frame.status[i] === Status.BadNoEntryExists) continue;
      batch.push(rowAt(tag, frame, i));
      if (batch.length < ON_THEIR_WAY) continue;
      yield batch;
      batch = [];
    }
  }
  if (batch.length > 0) yield batch;
}
