/** Messages, and what lies in them, as nodes of a tree. Pure. */
import { messageNode, type BrowsedNode } from '@wide-ledger/contract';
import { leafAt, leavesOf, messagePathText } from '@wide-ledger/core';
import { NO_VALUE, folder } from './nodes.ts';

const LONGEST_SHOWN = 60;

/** A message: a value by itself, or fields below it. @param of its topic, or the request that it answers. */
export function messageOf(of: string, name: string, message: unknown): BrowsedNode {
  const node = messageNode(of, '');
  if (typeof message !== 'object' || message === null)
    return { ...NO_VALUE, node, name, hasBelow: false, ...shown(message) };
  return folder(node, name, JSON.stringify(message).slice(0, LONGEST_SHOWN));
}

/** One that cannot be read. @param why as a sentence. */
export const brokenMessage = (of: string, name: string, why: string): BrowsedNode => ({
  ...NO_VALUE,
  node: messageNode(of, ''),
  name,
  description: why,
  hasBelow: false,
  quality: 'Bad',
});

/** Everything in a message that is a value by itself. */
export const fieldsOf = (of: string, message: unknown): BrowsedNode[] =>
  leavesOf(message).map((path) => {
    const field = messagePathText(path);
    return { ...NO_VALUE, node: messageNode(of, field), name: field, hasBelow: false, ...shown(leafAt(message, path)) };
  });

/** A value as the tree shows it, and the type that a tag of it would have. */
function shown(value: unknown): Pick<BrowsedNode, 'type' | 'typeWords' | 'value' | 'quality'> {
  const type = typeof value === 'number' ? 'real' : typeof value === 'boolean' ? 'boolean' : 'text';
  const words = value === null ? 'nothing' : typeof value === 'object' ? 'empty' : typeof value;
  return { type, typeWords: words, value: String(value).slice(0, LONGEST_SHOWN), quality: 'Good' };
}
