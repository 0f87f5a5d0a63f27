/** Nodes that were chosen, and the tags that they would become. Pure. */
import { addressOfNode, type DraftChange, type SourceKind } from '@wide-ledger/contract';
import type { Choice, Placed } from './choice.ts';

import { nameByPattern } from './namePattern.ts';

export const keyOf = ({ node, element }: Choice): string => `${node.node} ${element}`;

/** What a node offers to be taken: itself, or the elements of which it is made. */
export function choicesOf(placed: Placed): Choice[] {
  const { type, elements } = placed.node;
  if (type !== null) return [{ ...placed, element: '' }];
  return elements.map((element) => ({ ...placed, element }));
}

const MOST_CHARACTERS = 120;

/** A tag's name out of a node's: with the folder that it lies in, in the characters that names may have. */
export function proposedName({ node, path, element }: Choice): string {
  const own = [...path.slice(-1), node.name, element.replace(/^\[(\d+)\]$/, '$1').replace(/[[\].]+/g, '-')];
  const name = own
    .filter((part) => part !== '')
    .map((part) => part.replace(/[^A-Za-z0-9_-]+/g, '-').replace(/^-+|-+$/g, ''))
    .filter((part) => part !== '')
    .join('.');
  return (/^[A-Za-z0-9]/.test(name) ? name : `T${name}`).slice(0, MOST_CHARACTERS);
}

/** Names for several, none twice. @param pattern by which they are made; empty: by themselves */
export function proposedNames(choices: readonly Choice[], pattern = ''): string[] {
  const used = new Set<string>();
  return choices.map((choice) => {
    const name = nameByPattern(pattern, choice).slice(0, MOST_CHARACTERS) || proposedName(choice);
    let free = name;
    for (let n = 2; used.has(free); n++) free = `${name}-${n}`;
    used.add(free);
    return free;
  });
}

/** What all of them get. */
export interface Common {
  readonly source: number;
  readonly place: number | null;
  readonly pace: number | null;
}

/** What one of them gets. */
interface Own {
  readonly name: string;
  readonly labels: Readonly<Record<string, string>>;
}

/** The edit that puts one into the draft, with what the source says of it. */
export function taking(
  kind: SourceKind,
  { node, element }: Choice,
  { name, labels }: Own,
  common: Common,
): DraftChange {
  const type = node.type ?? 'real';
  return {
    kind: 'tag',
    create: {
      ...common,
      name,
      ...(Object.keys(labels).length > 0 && { labels }),
      type,
      unit: node.unit,
      description: node.description.slice(0, 400),
      low: type === 'real' || type === 'integer' ? node.low : null,
      high: type === 'real' || type === 'integer' ? node.high : null,
      states: type === 'state' ? node.states : null,
      stepped: type !== 'real',
      address: addressOfNode(kind, node.node, element),
    },
  };
}

/** Whether a node is what somebody looks for: every word in its name, its folders, its description, or as its unit. */
export function matches({ node, path }: Placed, words: string): boolean {
  const text = [...path, node.name, node.description, node.unit, node.node].join(' ').toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
