/** New tags, put in force many at once. */
import type { NewTag } from '@wide-ledger/contract';
import type { Doer } from '../../people/index.ts';
import { Unforceable } from '../force/force.ts';
import type { Forcing } from '../force/forcing.ts';
import { wishesFor } from './given.ts';

/** A new tag: its place among those that were asked for, and the number that it will have. */
export interface WantedTag {
  readonly index: number;
  readonly tag: NewTag;
  readonly id: number;
}

/**
 * Puts new tags in force; those that what is in force by now does not bear are refused, the others come without them.
 * @param refused to which the reasons are added, by index.
 * @returns the numbers of those that are in force, by index.
 */
export async function createTags(
  forcing: Forcing,
  by: Doer,
  wanted: readonly WantedTag[],
  refused: Map<number, string>,
): Promise<Map<number, number>> {
  for (let left = wanted; left.length > 0;) {
    const reason = left.length === 1 ? 'A new tag.' : `${left.length} new tags.`;
    const [tags, ids] = [left.map(({ tag }) => tag), left.map(({ id }) => id)];
    try {
      await forcing.force({ by, reason, wishes: (client) => wishesFor(client, tags, ids, forcing.catalogue) });
      return new Map(left.map(({ index, id }) => [index, id]));
    } catch (error) {
      if (!(error instanceof Unforceable)) throw error;
      const blocking = error.settled.findings.filter(({ severity, kind }) => severity === 'blocks' && kind === 'tag');
      if (blocking.length === 0) throw error;
      for (const { id, sentence } of blocking) refused.set(left.find((one) => one.id === id)!.index, sentence);
      left = left.filter(({ index }) => !refused.has(index));
    }
  }
  return new Map();
}
