/** MQTT: what a connection and an address are made of, and what a source of this kind can do. */
import { PAYLOADS, filterProblem, topicProblem } from '@wide-ledger/core';
import { z } from 'zod';
import { brokerAddress, brokerFields, brokerTimeout } from './broker.ts';
import { clockFields } from './clock.ts';
import { describeKind } from './describe.ts';
import { checkedText } from './fields.ts';
import { messageClock, messageExpression, messagePath } from './messages.ts';

export const mqttConnection = z.strictObject({
  ...brokerFields,
  topics: z
    .array(checkedText(1000, filterProblem))
    .min(1)
    .max(100)
    .default(['#'])
    .meta({ title: 'Topics', description: 'filters, such as plant/+/state or plant/#' }),
  payload: z.enum(PAYLOADS).default('json').meta({ title: 'Messages are' }),
  expression: messageExpression,
  time: messagePath.default('').meta({ title: 'Time', description: 'its way in the message; empty: when it comes' }),
  ...messageClock,
  status: messagePath.default('').meta({ title: 'Status', description: 'its way in the message; empty: Good' }),
  keptSeconds: z
    .number()
    .int()
    .min(0)
    .max(604_800)
    .default(3600)
    .meta({ title: 'Kept for us', description: 's that the broker keeps messages while the line is cut; 0: none' }),
  ...clockFields,
  timeoutMilliseconds: brokerTimeout,
});
export type MqttConnection = z.infer<typeof mqttConnection>;

/** Where a value lies: in the messages of a topic, at a way into them. */
export const mqttAddress = z.strictObject({
  topic: checkedText(1000, topicProblem).meta({ title: 'Topic' }),
  field: messagePath.default('').meta({ title: 'Field', description: 'its way in the message; empty: all of it' }),
  command: checkedText(1000, (topic) => (topic === '' ? null : topicProblem(topic)))
    .optional()
    .meta({ title: 'Command topic', description: 'takes new values, where the tag may be written' }),
  commandMessage: z
    .string()
    .max(1000)
    .refine((text) => text.includes('{value}'), 'holds {value}, which stands for the new value')
    .optional()
    .meta({ title: 'Command', description: 'what is sent there, such as {"set": {value}}; empty: the value alone' }),
});
export type MqttAddress = z.infer<typeof mqttAddress>;

export const mqtt = describeKind({
  kind: 'mqtt',
  words: 'MQTT',
  connection: mqttConnection,
  address: mqttAddress,
  whither: brokerAddress,
  where: ({ topic, field }) => (field === '' ? topic : `${topic} ${field}`),
  rungs: ['name', 'port', 'answer', 'sign-in', 'browse', 'value'],
  offers: { poll: false, subscribe: true, browse: true, history: false, events: false, write: true },
});
