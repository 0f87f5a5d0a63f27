/** What passes on a broker as a tree: the levels of topics, their messages, and the fields of these. Pure. */
import type { BrowsedNode } from '@wide-ledger/contract';
import type { ReadMessage } from '@wide-ledger/core';
import { brokenMessage, fieldsOf, messageOf } from '../messageNodes.ts';
import { folder } from '../nodes.ts';

/** Nodes of one answer. */
const MOST_NODES = 2_000;
/** Ends the name of a level of topics; no topic holds it. */
const BELOW = '/#';

/** What lies below a node; null: the root. @param caught the newest message of each topic. */
export function lookInto(
  node: string | null,
  caught: ReadonlyMap<string, ReadMessage>,
): { readonly nodes: BrowsedNode[]; readonly more: boolean } {
  const nodes =
    node === null || node.endsWith(BELOW)
      ? levelBelow(node === null ? '' : node.slice(0, -1), caught)
      : fieldsIn(node.slice(0, node.indexOf('#')), caught);
  return { nodes: nodes.slice(0, MOST_NODES), more: nodes.length > MOST_NODES };
}

/** The next level of the topics that begin so: messages, and levels below. */
function levelBelow(prefix: string, caught: ReadonlyMap<string, ReadMessage>): BrowsedNode[] {
  const messages: BrowsedNode[] = [];
  const folders = new Map<string, number>();
  for (const [topic, read] of caught) {
    if (!topic.startsWith(prefix)) continue;
    const rest = topic.slice(prefix.length);
    const end = rest.indexOf('/');
    if (end === -1) messages.push(messageIn(topic, rest, read));
    else folders.set(rest.slice(0, end), (folders.get(rest.slice(0, end)) ?? 0) + 1);
  }
  const levels = [...folders].map(([level, count]) =>
    folder(`${prefix}${level}${BELOW}`, level === '' ? '(empty)' : level, count === 1 ? '1 topic' : `${count} topics`),
  );
  const byName = (a: BrowsedNode, b: BrowsedNode): number => a.name.localeCompare(b.name, 'en', { numeric: true });
  return [...levels.sort(byName), ...messages.sort(byName)];
}

function fieldsIn(topic: string, caught: ReadonlyMap<string, ReadMessage>): BrowsedNode[] {
  const read = caught.get(topic);
  return read && 'message' in read ? fieldsOf(topic, read.message) : [];
}

const messageIn = (topic: string, name: string, read: ReadMessage): BrowsedNode =>
  'trouble' in read ? brokenMessage(topic, name, read.trouble) : messageOf(topic, name, read.message);
