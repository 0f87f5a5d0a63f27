/** The tree of a source, loaded as it is opened, or as far as it goes. */
import type { BrowseAnswer, BrowsedNode, NewSource } from '@wide-ledger/contract';
import { useCallback, useRef, useState } from 'react';
import { post } from '../../server/calls.ts';
import type { Placed } from './choice.ts';

/** What lies below a node, as far as it is known. */
export type Below = readonly BrowsedNode[] | 'loading' | Error;

/** The root has no node of its own. */
export const ROOT = '';
/** A source is not read through beyond so many nodes. */
const MOST_NODES = 20_000;
/** A server describes itself in its tree: nobody archives that. */
const ITS_OWN = ['i=2253', 'i=23470', 'i=31915'];

const isItsOwn = ({ node }: BrowsedNode): boolean => ITS_OWN.some((own) => node === own || node === `ns=0;${own}`);

export function useTree(source: NewSource | null, id: number) {
  const [known, setKnown] = useState<ReadonlyMap<string, Below>>(new Map());
  const loaded = useRef(new Map<string, readonly BrowsedNode[]>());
  const set = (node: string, below: Below): void => setKnown((before) => new Map(before).set(node, below));

  const load = useCallback(
    async (node: string): Promise<readonly BrowsedNode[]> => {
      const before = loaded.current.get(node);
      if (before || !source) return before ?? [];
      set(node, 'loading');
      try {
        const { name, kind, connection } = source;
        const asked = { source: { name, kind, connection }, node: node === ROOT ? null : node, id };
        const { nodes } = await post<BrowseAnswer>('/sources/browse', asked);
        const shown = nodes.filter((one) => !isItsOwn(one));
        loaded.current.set(node, shown);
        set(node, shown);
        return shown;
      } catch (error) {
        set(node, error as Error);
        throw error;
      }
    },
    [source, id],
  );

  /** Reads all that lies below a node, folder by folder. @param told after each folder. */
  const readThrough = useCallback(
    async (node: string, path: readonly string[], told: (found: readonly Placed[]) => void): Promise<Placed[]> => {
      const found: Placed[] = [];
      const waiting: [string, readonly string[]][] = [[node, path]];
      const met = new Set<string>();
      for (let next = waiting.shift(); next && found.length < MOST_NODES; next = waiting.shift()) {
        const [at, within] = next;
        if (met.has(at)) continue;
        met.add(at);
        for (const one of await load(at)) {
          found.push({ node: one, path: within });
          if (one.hasBelow) waiting.push([one.node, [...within, one.name]]);
        }
        told(found);
      }
      return found;
    },
    [load],
  );

  return { known, load, readThrough };
}
