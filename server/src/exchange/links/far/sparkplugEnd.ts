/**
 * An edge node of Sparkplug B as the far end of a link: born with the carried tags, telling their values by aliases, dying
 * by its last will. Its messages go at quality 0, as the standard has it; that the broker has them is known by its answer
 * to the subscription that follows them on the same connection. Like any broker it keeps no position.
 */
import type { CarriedTag, CarriedTagsAnswer, LinkRung, SparkplugEnd as Given } from '@wide-ledger/contract';
import { REBIRTH, SPARKPLUG_NAMESPACE, TellingNode, metricValue, readSparkplug } from '@wide-ledger/core';
import type { MqttClient } from 'mqtt';
import { batchesOf, type KeptPosition } from './brokerEnd.ts';
import { BrokerLine } from './brokerLine.ts';
import type { FarEnd, FarPosition, Stretch, Taken } from './farEnd.ts';

const SESSIONS = 256;

export class SparkplugEnd implements FarEnd {
  private readonly line: BrokerLine;
  private node: TellingNode;
  /** Whether what it was born with is what it has. */
  private isBorn = false;

  /** @param kept where the near end says it stands. @param told the link's tags by its numbers. */
  constructor(
    private readonly given: Given,
    password: string,
    private readonly kept: () => Promise<KeptPosition>,
    private readonly told: () => Promise<ReadonlyMap<number, CarriedTag>>,
  ) {
    // Another one than that of the node before a restart.
    this.node = new TellingNode(Math.floor(Date.now() / 1000) % SESSIONS);
    this.line = new BrokerLine(
      given,
      password,
      () => {
        this.node = this.node.again((this.node.session + 1) % SESSIONS);
        return {
          will: {
            topic: this.topic('NDEATH'),
            payload: this.bytes(this.node.death(Date.now())),
            qos: 1,
            retain: false,
          },
        };
      },
      async (client) => {
        this.isBorn = false;
        client.on('message', (_topic, payload) => this.obey(payload));
        await client.subscribeAsync(this.topic('NCMD'), { qos: 1 });
      },
    );
  }

  async position(): Promise<FarPosition> {
    await this.line.connected();
    return {
      ...(await this.kept()),
      print: '',
      site: null,
      name: `${this.line.name}, ${this.given.group}/${this.given.edge}`,
    };
  }

  tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer> {
    // With others it is born anew.
    this.isBorn = false;
    return Promise.resolve({ results: tags.map(({ number }) => ({ number, refused: null })) });
  }

  async entries({ entries, samples }: Stretch): Promise<Taken> {
    const client = await this.line.connected();
    const tags = await this.told();
    let bytes = await this.bear(client, tags);
    for (const batch of batchesOf(entries, tags)) {
      const told = batch.map(({ tag, micros, value, text, status }) => ({
        number: tag.number,
        micros,
        value: text ?? value,
        status,
      }));
      bytes += await this.say(client, 'NDATA', this.node.data(told, Date.now()));
    }
    return { accepted: samples, setAside: 0, bytes };
  }

  /** Whoever asked it to begin anew is answered, also while nothing is carried. */
  async settle(): Promise<void> {
    if (this.isBorn) return;
    const client = await this.line.connected();
    await this.bear(client, await this.told());
  }

  check(): AsyncGenerator<LinkRung> {
    return this.line.check();
  }

  async close(): Promise<void> {
    await this.line.close();
  }

  private async bear(client: MqttClient, tags: ReadonlyMap<number, CarriedTag>): Promise<number> {
    if (this.isBorn) return 0;
    this.isBorn = true;
    return this.say(client, 'NBIRTH', this.node.birth([...tags.values()], Date.now()));
  }

  private async say(client: MqttClient, verb: string, payload: Uint8Array): Promise<number> {
    await this.line.during(client, async () => {
      await client.publishAsync(this.topic(verb), this.bytes(payload), { qos: 0, retain: false });
      // The broker answers in order: it has what came before.
      await client.subscribeAsync(this.topic('NCMD'), { qos: 1 });
    });
    return payload.length + this.topic(verb).length;
  }

  private obey(payload: Buffer): void {
    try {
      const asked = readSparkplug(payload).metrics.find(({ name }) => name === REBIRTH);
      if (asked && metricValue(asked, asked.type) === 1) this.isBorn = false;
    } catch {
      // What cannot be read asks for nothing.
    }
  }

  private topic(verb: string): string {
    return [SPARKPLUG_NAMESPACE, this.given.group, verb, this.given.edge].join('/');
  }

  private bytes(payload: Uint8Array): Buffer {
    return Buffer.from(payload.buffer, payload.byteOffset, payload.byteLength);
  }
}
