/** Sparkplug B as a kind of source: edge nodes say through a broker what they have, and can be looked through. */
import {
  sparkplugNode,
  type BrowsedNode,
  type PathCheck,
  type Rung,
  type SparkplugConnection,
} from '@wide-ledger/contract';
import { describeStatus, metricType, type BornMetric } from '@wide-ledger/core';
import { randomBytes } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import { away, connectBroker, placeOf } from '../brokers/broker.ts';
import { walkToBroker } from '../brokers/pathCheck.ts';
import { KeptOpen } from '../keptOpen.ts';
import type { Kind, SourceOf, Surroundings } from '../kind.ts';
import { NO_VALUE, folder } from '../nodes.ts';
import { edgesOf, type Edges } from './edges.ts';
import { SparkplugSession, topicsOf } from './session.ts';

/** So long it is listened before the first answer: edge nodes are asked what they have meanwhile. Milliseconds. */
const LISTENS = 3000;
/** After the last question. Milliseconds. */
const KEPT = 60_000;
/** Nodes of one answer. */
const MOST_NODES = 2_000;

interface Listening {
  readonly edges: Edges;
  readonly close: () => void;
  readonly since: number;
}

const listenings = new KeptOpen<Listening>(KEPT, ({ close }) => close());

export const sparkplug: Kind<'sparkplug', SparkplugSession> = {
  check: walkPath,
  open: (source, around) => SparkplugSession.open(source, around),
  browse: async ({ connection }, node, around) => {
    const nodes = lookInto(node, await heardOn(connection, around));
    return { nodes: nodes.slice(0, MOST_NODES), more: nodes.length > MOST_NODES };
  },
};

/** The edge nodes of a broker with what they have, as far as they say so. @throws SourceAway */
const heardOn = (connection: SparkplugConnection, around: Surroundings): Promise<Edges> =>
  listenings.whileOpen(
    JSON.stringify([connection, around.secret(connection.password)]),
    () => begun(connection, around),
    async ({ edges, since }) => {
      const left = since + LISTENS - performance.now();
      if (left > 0) await wait(left);
      return edges;
    },
  );

async function begun(connection: SparkplugConnection, around: Surroundings): Promise<Listening> {
  const edges = edgesOf(placeOf(connection), () => client);
  const part = { name: `wl-${randomBytes(9).toString('hex')}`, keptSeconds: 0 };
  const { client } = await connectBroker(connection, around, part, (made) =>
    made.on('message', (topic, payload) => void edges.take(topic, payload)),
  );
  client.on('error', () => undefined);
  try {
    await client.subscribeAsync(topicsOf(connection), { qos: 0 });
    edges.askAll();
    return { edges, close: () => client.end(true), since: performance.now() };
  } catch (error) {
    client.end(true);
    throw away(error, placeOf(connection));
  }
}

const byName = (a: BrowsedNode, b: BrowsedNode): number => a.name.localeCompare(b.name, 'en', { numeric: true });

/** What lies below a node: edge nodes; of one its devices and its own metrics; of a device its metrics. */
function lookInto(node: string | null, edges: Edges): BrowsedNode[] {
  const all = [...edges.born()];
  if (node === null) return all.map(([edge, metrics]) => folder(edge, edge, count(metrics.length))).sort(byName);
  const [edge = '', device] = node.split('#');
  const metrics = all.find(([name]) => name === edge)?.[1] ?? [];
  const own = metrics.filter((metric) => metric.device === (device ?? ''));
  const devices =
    device === undefined ? [...new Set(metrics.map((metric) => metric.device).filter((name) => name !== ''))] : [];
  return [
    ...devices
      .map((name) => folder(`${edge}#${name}`, name, count(metrics.filter((metric) => metric.device === name).length)))
      .sort(byName),
    ...own.map((metric) => nodeOf(edge, metric)).sort(byName),
  ];
}

const count = (metrics: number): string => (metrics === 1 ? '1 metric' : `${metrics} metrics`);

function nodeOf(path: string, { device, name, type, properties, value, status }: BornMetric): BrowsedNode {
  const [group = '', edge = ''] = path.split('/');
  const { keeps, words } = metricType(type);
  return {
    ...NO_VALUE,
    node: sparkplugNode({ group, edge, device, metric: name }),
    name,
    hasBelow: false,
    type: keeps,
    typeWords: words,
    unit: text(properties, 'engUnit'),
    low: number(properties, 'engLow'),
    high: number(properties, 'engHigh'),
    value: value === null ? null : String(value).slice(0, 60),
    quality: describeStatus(status),
  };
}

// Names of properties for unit and range are common practice; the standard leaves them free.
const text = (properties: BornMetric['properties'], name: string): string =>
  String(properties[name] ?? '').slice(0, 40);
const number = (properties: BornMetric['properties'], name: string): number | null =>
  typeof properties[name] === 'number' ? properties[name] : null;

function walkPath(
  { connection }: SourceOf<'sparkplug'>,
  around: Surroundings,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  return walkToBroker(
    connection,
    topicsOf(connection),
    () => heardOn(connection, around),
    (edges) => {
      const born = [...edges.born()];
      const metrics = born.reduce((sum, [, own]) => sum + own.length, 0);
      const sentence =
        born.length === 0
          ? 'No edge node was born while it was listened. Those that tell nothing are not known; check the groups.'
          : `${born.map(([edge]) => edge).join(', ')}: ${count(metrics)}.`;
      return { passed: true, sentence };
    },
    told,
  );
}
