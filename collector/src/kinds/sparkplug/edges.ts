/** The edge nodes that are heard of: their messages in, what they came to out, and who is asked to begin anew. */
import {
  EdgeNode,
  REBIRTH,
  commandPayload,
  commandTopic,
  parseSparkplugTopic,
  readSparkplug,
  type BornMetric,
  type MetricSample,
} from '@wide-ledger/core';
import type { MqttClient } from 'mqtt';
import { LARGEST_MESSAGE } from '../brokers/catching.ts';
import type { Place } from '../knock.ts';

/** An edge node is not asked again to begin anew before it had time to. Milliseconds. */
const ASKED_AGAIN = 5_000;

/** Edge nodes that were ever heard of, by broker: one that tells nothing just now is asked by whoever looks through it. */
const everHeard = new Map<string, Set<string>>();

/** A sample, with whose it is: `group/node`. */
export interface EdgeSample extends MetricSample {
  readonly edge: string;
}

export class Edges {
  private readonly nodes = new Map<string, EdgeNode>();
  private readonly asked = new Map<string, number>();
  /** Why an edge node was asked to begin anew last, or what could not be read. */
  trouble: string | null = null;

  /** @param broker by which it is known. @param ask publishes a command. */
  constructor(
    private readonly broker: string,
    private readonly ask: (topic: string, payload: Uint8Array) => void,
  ) {}

  /** Takes a message, if it is one. */
  take(topic: string, payload: Buffer): EdgeSample[] {
    const said = parseSparkplugTopic(topic);
    if (!said) return [];
    const { edge, verb, device } = said;
    try {
      if (payload.length > LARGEST_MESSAGE) throw new Error(`It has ${payload.length} bytes.`);
      const node = this.nodes.get(edge) ?? new EdgeNode();
      this.nodes.set(edge, node);
      everHeard.set(this.broker, (everHeard.get(this.broker) ?? new Set()).add(edge));
      const { samples, again } = node.take(verb, device, readSparkplug(payload), Date.now() * 1000);
      if (again !== null) this.beginAnew(edge, again);
      return samples.map((sample) => ({ ...sample, edge }));
    } catch (error) {
      this.trouble = `A message of ${edge} cannot be read: ${(error as Error).message}`;
      return [];
    }
  }

  /** Asks an edge node to say all that it has. */
  beginAnew(edge: string, why: string): void {
    const now = performance.now();
    if (now - (this.asked.get(edge) ?? -Infinity) < ASKED_AGAIN) return;
    this.asked.set(edge, now);
    this.trouble = `${edge} was asked to begin anew: ${why}.`;
    this.ask(commandTopic(edge), commandPayload(REBIRTH, Date.now()));
  }

  /** Asks all that were ever heard of through this broker. */
  askAll(): void {
    for (const edge of everHeard.get(this.broker) ?? []) this.beginAnew(edge, 'somebody looks through it');
  }

  /** Those that were born. */
  *born(): Generator<readonly [edge: string, metrics: readonly BornMetric[]]> {
    for (const [edge, node] of this.nodes) {
      const metrics = [...node.all];
      if (metrics.length > 0) yield [edge, metrics];
    }
  }

  isAlive(edge: string): boolean {
    return this.nodes.get(edge)?.isAlive ?? false;
  }

  get size(): number {
    return this.nodes.size;
  }
}

/** Edges that speak through a client. */
export const edgesOf = (broker: Place, client: () => MqttClient | null): Edges =>
  new Edges(`${broker.host}:${broker.port}`, (topic, payload) =>
    client()?.publish(topic, Buffer.from(payload), { qos: 0 }),
  );
