/** What of a file's values is new, takes another one's place, or stands in the archive already. */
import type { ImportReport } from '@wide-ledger/contract';
import { textAt, wholeAt, type Frame } from '@wide-ledger/core';
import { standingFrames, type Stores } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';

/** Tags that are looked up at a time: each is a snapshot of its own, and a wide file is not to wait for each of them. */
const TAGS_AT_ONCE = 4;

type Counts = Pick<ImportReport, 'accepted' | 'replaced' | 'unchanged'>;

/** Compares a frame with what stands. @param counts to which what is found is added. */
export async function compare(stores: Stores, catalogue: Catalogue, frame: Frame, counts: Counts): Promise<void> {
  const byTag = new Map<number, number[]>();
  frame.tags!.forEach((tag, i) => {
    const known = byTag.get(tag);
    if (known) known.push(i);
    else byTag.set(tag, [i]);
  });
  const tags = [...byTag];
  const compareTag = async ([tag, mine]: (typeof tags)[number]): Promise<void> => {
    const times = mine.map((i) => frame.times[i]!);
    const window = { from: Math.min(...times), to: Math.max(...times) + 1 };
    const known = new Map<number, string>();
    for (const stands of await standingFrames(stores, catalogue.tagById(tag)!, window))
      stands.times.forEach((time, i) => known.set(time, printOf(stands, i)));
    for (const i of mine) {
      const before = known.get(frame.times[i]!);
      const now = printOf(frame, i);
      known.set(frame.times[i]!, now);
      if (before === now) counts.unchanged++;
      else {
        counts.accepted++;
        if (before !== undefined) counts.replaced++;
      }
    }
  };
  for (let at = 0; at < tags.length; at += TAGS_AT_ONCE)
    await Promise.all(tags.slice(at, at + TAGS_AT_ONCE).map(compareTag));
}

/** Value and status as one text: equal when nothing would change. */
const printOf = (frame: Frame, i: number): string =>
  `${frame.texts.length > 0 ? JSON.stringify(textAt(frame, i)) : String(wholeAt(frame, i) ?? frame.values[i])} ${frame.status[i]!}`;
