/** What kinds have in common whose values lie in messages: ways into these, and nodes of their trees. */
import { expressionProblem, parseMessagePath } from '@wide-ledger/core';
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
