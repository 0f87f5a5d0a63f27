/** The tree of a source as lines. Pure. */
import type { Placed } from './choice.ts';
import { ROOT, type Below } from './useTree.ts';

/** A line of the tree as it stands open. */
export interface Line {
  readonly placed: Placed;
  readonly level: number;
  readonly open: boolean | null;
  /** What could not be loaded below it, or that it is on its way. */
  readonly below: 'loading' | Error | null;
}

/** The lines of a tree, of which some nodes are open. */
export function linesOf(known: ReadonlyMap<string, Below>, opened: ReadonlySet<string>): Line[] {
  const lines: Line[] = [];
  const add = (node: string, path: readonly string[], level: number): void => {
    const below = known.get(node);
    if (!Array.isArray(below)) return;
    for (const one of below as Placed['node'][]) {
      const isOpen = opened.has(one.node);
      const under = isOpen ? known.get(one.node) : undefined;
      const waiting = under === 'loading' || under instanceof Error ? under : null;
      lines.push({ placed: { node: one, path }, level, open: one.hasBelow ? isOpen : null, below: waiting });
      if (isOpen) add(one.node, [...path, one.name], level + 1);
    }
  };
  add(ROOT, [], 1);
  return lines;
}
