/** Sparkplug B: what a connection and an address are made of, and what a source of this kind can do. */
import { z } from 'zod';
import { brokerAddress, brokerFields, brokerTimeout } from './broker.ts';
import { clockFields } from './clock.ts';
import { describeKind } from './describe.ts';
import { topicLevel } from './fields.ts';

export const sparkplugConnection = z.strictObject({
  ...brokerFields,
  groups: z
    .array(topicLevel('Group', '').min(1))
    .max(100)
    .default([])
    .meta({ title: 'Groups', description: 'whose edge nodes are heard; none: all' }),
  hostId: topicLevel(
    'Host name',
    'under which edge nodes wait for this collector before they tell; each of a standby pair has its own; empty: none',
  ).default(''),
  ...clockFields,
  timeoutMilliseconds: brokerTimeout,
});
export type SparkplugConnection = z.infer<typeof sparkplugConnection>;

/** Where a value lies: a metric of an edge node, or of a device of it. */
export const sparkplugAddress = z.strictObject({
  group: topicLevel('Group', '').min(1),
  edge: topicLevel('Edge node', '').min(1),
  device: topicLevel('Device', 'empty: the edge node itself').default(''),
  metric: z.string().min(1).max(500).meta({ title: 'Metric' }),
});
export type SparkplugAddress = z.infer<typeof sparkplugAddress>;

/** A metric as a node of a tree: names of nodes and devices hold no #. */
export const sparkplugNode = ({ group, edge, device, metric }: SparkplugAddress): string =>
  `${group}/${edge}#${device}#${metric}`;

/** The address that a node of a metric stands for. */
export function sparkplugAddressOf(node: string): SparkplugAddress {
  const [path = '', device = '', ...metric] = node.split('#');
  const [group = '', edge = ''] = path.split('/');
  return { group, edge, device, metric: metric.join('#') };
}

export const sparkplug = describeKind({
  kind: 'sparkplug',
  words: 'Sparkplug B',
  connection: sparkplugConnection,
  address: sparkplugAddress,
  whither: brokerAddress,
  where: ({ group, edge, device, metric }) => [group, edge, device, metric].filter((part) => part !== '').join(' / '),
  rungs: ['name', 'port', 'answer', 'sign-in', 'browse', 'value'],
  offers: { poll: false, subscribe: true, browse: true, history: false, events: false, write: false },
});
