/** Following the messages of a broker: what of them is a value of a tag is told, everything else is counted. */
import { messageTerms, type MqttConnection, type SourceState } from '@wide-ledger/contract';
import {
  parseMessagePath,
  readAs,
  rowsOfMessage,
  type MessageField,
  type MessageTerms,
  type ReadMessage,
} from '@wide-ledger/core';
import type { IPublishPacket, MqttClient } from 'mqtt';
import type { Listener, Sample, SubscribedSession, SourceOf, Surroundings, TagOf, Traffic } from '../kind.ts';
import { reshapingBy, type Reshaping } from '../expressions/expressions.ts';
import { refusedAll, sampleOfRow } from '../messageSamples.ts';
import { acknowledgeWhenKept } from '../brokers/acknowledging.ts';
import { away, clientName, connectBroker, placeOf } from '../brokers/broker.ts';
import { LARGEST_MESSAGE } from '../brokers/catching.ts';
import { Telling } from '../brokers/telling.ts';
import { Commands } from './commands.ts';

type Tag = TagOf<'mqtt'>;

/** Messages that the broker had kept, until it is known what is wanted of them. */
const MOST_WAITING = 100_000;

/** By the names of clients, across their connections. */
const lastOf = new Map<string, Map<string, Buffer>>();

interface Message {
  readonly topic: string;
  readonly payload: Buffer;
  readonly packet: Pick<IPublishPacket, 'dup' | 'retain'>;
}

export class MqttSession implements SubscribedSession<'mqtt'> {
  readonly acquires = 'subscription';
  readonly silenceTells = false;
  private readonly telling: Telling;
  private readonly commands: Commands;
  private fields = new Map<string, MessageField<Tag>[]>();
  private waiting: Message[] = [];
  /** Topics of which messages were let go, having come before it was known what is wanted. */
  private readonly dropped = new Set<string>();
  private subscribed = false;
  /** Whether the broker knew this client, and had kept messages for it. */
  private takenUp = false;
  /** What came last on topics whose messages do not say when they are from: one that comes again is no news. */
  private last = new Map<string, Buffer>();
  private readonly counts = { messages: 0, bytes: 0, taken: 0, kept: 0, reshaped: 0, reshaping: 0 };
  private readonly terms: MessageTerms;
  private readonly reshaping: Reshaping | null;
  /** Messages are told in the order in which they came, however long each takes to be reshaped. */
  private reshaped: Promise<void> = Promise.resolve();

  private client: MqttClient | null = null;

  private constructor(private readonly connection: MqttConnection) {
    this.terms = messageTerms(connection);
    this.reshaping = reshapingBy(connection.expression);
    this.telling = new Telling(placeOf(connection));
    this.commands = new Commands(connection, () => this.client);
  }

  /** Connects under the name by which the broker knows this collector. @throws SourceAway */
  static async open({ name: source, connection }: SourceOf<'mqtt'>, around: Surroundings): Promise<MqttSession> {
    const { name } = (await around.account()).report;
    const session = new MqttSession(connection);
    const part = { name: clientName(name, source, connection, connection.topics), keptSeconds: connection.keptSeconds };
    // Sent again is what was not acknowledged on the connection before.
    session.last = lastOf.get(part.name) ?? session.last;
    lastOf.set(part.name, session.last);
    const { client, takenUp } = await connectBroker(connection, around, part, (made) => session.listenTo(made));
    session.client = client;
    session.takenUp = takenUp;
    return session;
  }

  async follow(tags: readonly Tag[], listener: Listener): Promise<void> {
    this.telling.listener = listener;
    const fields = new Map<string, MessageField<Tag>[]>();
    for (const tag of tags) {
      const { topic, field } = tag.reading.address;
      const path = parseMessagePath(field);
      if (!path) continue;
      const known = fields.get(topic);
      if (known) known.push({ tag, field: path });
      else fields.set(topic, [{ tag, field: path }]);
    }
    this.fields = fields;
    for (const topic of this.last.keys()) if (!fields.has(topic)) this.last.delete(topic);
    const kept = this.waiting;
    this.waiting = [];
    if (this.takenUp) this.counts.kept += kept.length;
    for (const message of kept) this.take(message);
    for (const topic of this.dropped) for (const { tag } of fields.get(topic) ?? []) listener.overflowed(tag.id, null);
    this.dropped.clear();
    this.telling.follow(listener);
    if (this.subscribed || !this.client) return;
    this.subscribed = true;
    try {
      await this.client.subscribeAsync([...this.connection.topics], { qos: 1 });
    } catch (error) {
      throw away(error, placeOf(this.connection));
    }
  }

  readNow(tag: Tag): Promise<Sample> {
    return Promise.resolve().then(() => this.commands.readNow(tag));
  }

  write(tag: Tag, value: number | bigint | string): Promise<void> {
    return this.commands.write(tag, value);
  }

  get traffic(): Traffic {
    return { requests: this.counts.messages, bytes: this.counts.bytes };
  }

  get facts(): SourceState['facts'] {
    const { messages, taken, kept, reshaped, reshaping } = this.counts;
    const { keptSeconds } = this.connection;
    const session = this.takenUp
      ? `taken up again, ${kept} messages had been kept`
      : keptSeconds === 0
        ? 'nothing is kept while the line is cut'
        : `new; messages are kept for ${keptSeconds} s while the line is cut, as far as the broker does`;
    return [
      ['Messages', `${messages}, of which ${messages - taken} have no tag`],
      ['Session', session],
      ...(reshaped === 0
        ? []
        : [['Expression', `takes ${(reshaping / reshaped).toFixed(2)} ms of each message`] as [string, string]]),
    ];
  }

  close(): void {
    this.telling.close();
    this.reshaping?.close();
    // Says goodbye: what comes from now on is kept.
    this.client?.end(false, {}, () => undefined);
    this.client = null;
  }

  private listenTo(client: MqttClient): void {
    client.on('message', (topic, payload, packet) => {
      const message = { topic, payload, packet };
      if (this.telling.listener) this.take(message);
      else if (this.waiting.length < MOST_WAITING) this.waiting.push(message);
      else this.dropped.add(topic);
    });
    // What takes its time holds the broker back, instead of piling up here.
    if (this.reshaping) client.handleMessage = (_packet, done) => void this.reshaped.then(() => done());
    this.telling.attach(client);
    acknowledgeWhenKept(client, (soon) => this.telling.kept(soon));
  }

  private take({ topic, payload, packet }: Message): void {
    this.counts.messages++;
    this.counts.bytes += payload.length + topic.length;
    const fields = this.fields.get(topic);
    if (!fields) return;
    this.counts.taken++;
    if (this.terms.time === null) {
      // Sent again, since the broker did not hear that it had arrived.
      if (packet.dup && this.last.get(topic)?.equals(payload)) return;
      this.last.set(topic, payload);
    }
    const read = this.read(payload);
    const { reshaping } = this;
    if (!reshaping) {
      this.tell(fields, read, packet.retain);
      return;
    }
    this.reshaped = this.reshaped.then(async () => {
      const begun = performance.now();
      const made = await reshaping.reshape(read, topic);
      this.counts.reshaped++;
      this.counts.reshaping += performance.now() - begun;
      this.tell(fields, made, packet.retain);
    });
  }

  private read(payload: Buffer): ReadMessage {
    if (payload.length > LARGEST_MESSAGE)
      return {
        trouble: `The message has ${payload.length} bytes: more than ${LARGEST_MESSAGE} are not taken apart.`,
      };
    return readAs(payload.toString('utf8'), this.connection.payload);
  }

  private tell(fields: readonly MessageField<Tag>[], read: ReadMessage, retained: boolean): void {
    const rows =
      'trouble' in read
        ? refusedAll(fields, read.trouble)
        : rowsOfMessage(read.message, fields, this.terms, { retained });
    for (const row of rows) {
      const sample = sampleOfRow(row);
      if (row.tag.reading.address.command) this.commands.heard(sample);
      this.telling.tell(sample);
    }
  }
}
