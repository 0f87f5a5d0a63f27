/** What nobody watched of a record, and was read all the same: it is told as recovered. Pure. */
import { REMOVED } from '@wide-ledger/core';
import { Gathering, type Gathered } from '../gathering/gathering.ts';
import type { Missed } from '../watching/watchBook.ts';

/** @param tagsNow the tags that are read at this moment: theirs are the marks where all were missed. */
export function readThrough(source: number, { from, to, tags, mark }: Missed, tagsNow: Iterable<number>): Gathered {
  const told = new Gathering();
  for (const tag of tags ?? [null]) told.recovery({ source, tag, from, to, outcome: 'recovered', sentence: '' });
  // Nothing says any more that there is no value.
  if (mark !== null) for (const tag of tags ?? tagsNow) told.sample(tag, mark, null, REMOVED);
  return told.take();
}
