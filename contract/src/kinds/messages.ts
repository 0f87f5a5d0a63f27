/** What kinds have in common whose values lie in messages: ways into these, and nodes of their trees. */
import {
  expressionProblem,
  parseMessagePath,
  type MessageClock,
  type MessagePath,
  type MessageTerms,
} from '@wide-ledger/core';
import { isZone } from '../common.ts';
import { checkedText } from './fields.ts';
import { z } from 'zod';

/** A way into a message. */
export const messagePath = z
  .string()
  .trim()
  .max(500)
  .refine(
    (text) => parseMessagePath(text) !== undefined,
    'is a way into a message, such as flow, meter.values[3] or rows[*].v',
  );

/** By whose clock times without an offset are told, in messages whose time does not say it. */
export const messageClock = {
  zone: z
    .string()
    .trim()
    .max(60)
    .refine((text) => text === '' || isZone(text), 'is not the name of a zone, such as Europe/Berlin or UTC')
    .default('')
    .meta({ title: 'Zone', description: 'of times without an offset; empty: such times are not read' }),
  dates: z.enum(['ymd', 'dmy', 'mdy']).default('ymd').meta({ title: 'Dates', description: 'of such times' }),
};

/** A way that a connection names; null where it names none. */
export const pathOrNone = (text: string): MessagePath | null => (text === '' ? null : (parseMessagePath(text) ?? null));

/** What a connection says of all its messages. Of one that an older server made, times have no zone. */
export const messageTerms = ({
  time,
  status,
  zone,
  dates = 'ymd',
}: { readonly time: string; readonly status: string } & Partial<MessageClock>): MessageTerms => ({
  time: pathOrNone(time),
  status: pathOrNone(status),
  clock: zone ? { zone, dates } : null,
});

/** What makes another message of each, for those in which no way leads to a value as it stands. */
export const messageExpression = checkedText(4000, (text) => (text.trim() === '' ? null : expressionProblem(text)))
  .default('')
  .meta({
    title: 'Expression',
    description: 'JSONata; what it makes of a message takes its place, $topic is where it came; empty: as it is',
    long: true,
  });

/** A field of the messages of a topic, or of the answers to a request, as a node of a tree: neither of them holds a #. */
export const messageNode = (of: string, field: string): string => `${of}#${field}`;

/** What a node stands for. */
export function inMessage(node: string): { readonly of: string; readonly field: string } {
  const end = node.indexOf('#');
  return end === -1 ? { of: node, field: '' } : { of: node.slice(0, end), field: node.slice(end + 1) };
}
