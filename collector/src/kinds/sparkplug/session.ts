/** Following the edge nodes of a broker: what they are born with, what they tell, and what nobody vouches for when they die. */
import type { SourceState, SparkplugConnection } from '@wide-ledger/contract';
import { SPARKPLUG_NAMESPACE } from '@wide-ledger/core';
import type { MqttClient } from 'mqtt';
import { away, clientName, connectBroker, placeOf } from '../brokers/broker.ts';
import { Telling } from '../brokers/telling.ts';
import type { Listener, SourceOf, SubscribedSession, Surroundings, TagOf, Traffic } from '../kind.ts';
import { sampleOfRow } from '../messageSamples.ts';
import { HostState } from './hostState.ts';
import { edgesOf, type EdgeSample, type Edges } from './edges.ts';

type Tag = TagOf<'sparkplug'>;

/** An edge node that is not heard of by then is asked what it has. Milliseconds. */
const UNHEARD = 1500;

export const topicsOf = ({ groups }: SparkplugConnection): string[] =>
  (groups.length > 0 ? groups : ['+']).map((group) => `${SPARKPLUG_NAMESPACE}/${group}/#`);

const keyOf = (edge: string, device: string, metric: string): string => `${edge}\0${device}\0${metric}`;

export class SparkplugSession implements SubscribedSession<'sparkplug'> {
  readonly acquires = 'subscription';
  private readonly telling: Telling;
  private tags = new Map<string, Tag[]>();
  private client: MqttClient | null = null;
  private readonly edges: Edges;
  private readonly counts = { messages: 0, bytes: 0 };
  private subscribed = false;
  private unheard: NodeJS.Timeout | null = null;

  /** Null where no edge node waits for this collector. */
  private readonly host: HostState | null;

  private constructor(private readonly connection: SparkplugConnection) {
    this.host = connection.hostId === '' ? null : new HostState(connection.hostId);
    this.edges = edgesOf(placeOf(connection), () => this.client);
    this.telling = new Telling(placeOf(connection));
  }

  /** @throws SourceAway */
  static async open(
    { name: source, connection }: SourceOf<'sparkplug'>,
    around: Surroundings,
  ): Promise<SparkplugSession> {
    const { name } = (await around.account()).report;
    const session = new SparkplugSession(connection);
    // Edge nodes tell at quality 0, which no broker keeps: whoever was away asks them to begin anew.
    const { host } = session;
    const part = {
      name: clientName(name, source, connection, topicsOf(connection)),
      keptSeconds: 0,
      ...(host ? { will: host.will } : {}),
    };
    const { client } = await connectBroker(connection, around, part, (made) => session.listenTo(made));
    session.client = client;
    return session;
  }

  async follow(tags: readonly Tag[], listener: Listener): Promise<void> {
    this.telling.listener = listener;
    const before = this.tags;
    this.tags = new Map();
    for (const tag of tags) {
      const { group, edge, device, metric } = tag.reading.address;
      const key = keyOf(`${group}/${edge}`, device, metric);
      this.tags.set(key, [...(this.tags.get(key) ?? []), tag]);
    }
    // What was told before it was known what is wanted.
    for (const [key, own] of this.tags) if (!before.has(key)) this.tellBorn(own);
    this.askUnheard();
    if (this.subscribed || !this.client) return;
    this.subscribed = true;
    try {
      await this.client.subscribeAsync([...topicsOf(this.connection), ...(this.host ? [this.host.topic] : [])], {
        qos: 1,
      });
      // Edge nodes that wait for it begin now, and are heard from their births on.
      await this.host?.present(this.client);
    } catch (error) {
      throw away(error, placeOf(this.connection));
    }
  }

  get traffic(): Traffic {
    return { requests: this.counts.messages, bytes: this.counts.bytes };
  }

  get facts(): SourceState['facts'] {
    const wanted = [...this.wantedEdges()];
    const alive = wanted.filter((edge) => this.edges.isAlive(edge)).length;
    return [
      ['Edge nodes', `${alive} of ${wanted.length} are alive; ${this.edges.size} are heard`],
      ...(this.edges.trouble === null ? [] : [['Last notice', this.edges.trouble] as [string, string]]),
    ];
  }

  close(): void {
    if (this.unheard) clearTimeout(this.unheard);
    this.telling.close();
    if (this.client) this.host?.leave(this.client);
    this.client?.end(false, {}, () => undefined);
    this.client = null;
  }

  private listenTo(client: MqttClient): void {
    client.on('message', (topic, payload, { retain }) => {
      if (topic !== this.host?.topic) this.take(topic, payload);
      // What the broker had kept of it is of before it was there.
      else if (!retain) this.host.hear(payload, this.client);
    });
    this.telling.attach(client);
  }

  private *wantedEdges(): Generator<string> {
    const told = new Set<string>();
    for (const key of this.tags.keys()) {
      const [edge = ''] = key.split('\0');
      if (!told.has(edge)) yield edge;
      told.add(edge);
    }
  }

  /** Births are not kept by a broker: whoever comes later asks for them. */
  private askUnheard(): void {
    if (this.unheard) clearTimeout(this.unheard);
    this.unheard = setTimeout(() => {
      for (const edge of this.wantedEdges())
        if (!this.edges.isAlive(edge)) this.edges.beginAnew(edge, 'nothing was heard of it');
    }, UNHEARD);
  }

  private take(topic: string, payload: Buffer): void {
    this.counts.messages++;
    this.counts.bytes += payload.length + topic.length;
    for (const sample of this.edges.take(topic, payload)) this.tell(sample);
  }

  private tellBorn(tags: readonly Tag[]): void {
    const { group, edge, device, metric } = tags[0]!.reading.address;
    for (const [born, metrics] of this.edges.born()) {
      if (born !== `${group}/${edge}`) continue;
      const found = metrics.find((one) => one.device === device && one.name === metric);
      if (found) this.tell({ ...found, edge: born, metric, time: null, trouble: null });
    }
  }

  private tell({ edge, device, metric, ...row }: EdgeSample): void {
    for (const tag of this.tags.get(keyOf(edge, device, metric)) ?? []) this.telling.tell(sampleOfRow({ tag, ...row }));
  }
}
