/** What of a file's values is new, takes another one's place, or stands in the archive already. */
import type { ImportReport } from '@wide-ledger/contract';
import { textAt, wholeAt, type Frame } from '@wide-ledger/core';
import { standingOfMany, type StandingAsked, type Stores } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { Turns } from '../../ground/index.ts';

/** Samples that are compared before others have their turn: a few milliseconds of work. */
const SAMPLES_A_TURN = 5000;

type Counts = Pick<ImportReport, 'accepted' | 'replaced' | 'unchanged'>;

/** The tags of a frame, each with the window that its samples span. */
export function askedOf(frame: Frame, catalogue: Catalogue): StandingAsked[] {
  const spans = new Map<number, { from: number; to: number }>();
  frame.tags!.forEach((tag, i) => {
    const time = frame.times[i]!;
    const known = spans.get(tag);
    if (!known) spans.set(tag, { from: time, to: time + 1 });
    else if (time < known.from) known.from = time;
    else if (time >= known.to) known.to = time + 1;
  });
  return [...spans].flatMap(([id, window]) => {
    const tag = catalogue.tagById(id);
    return tag ? [{ tag, window }] : [];
  });
}

/** Compares a frame with what stands. @param counts to which what is found is added. */
export async function compare(stores: Stores, catalogue: Catalogue, frame: Frame, counts: Counts): Promise<void> {
  const byTag = new Map<number, Map<number, string>>();
  await standingOfMany(stores, askedOf(frame, catalogue), (tag, stands) =>
    byTag.set(tag, new Map(Array.from(stands.times, (time, i) => [time, printOf(stands, i)]))),
  );
  const turns = new Turns(SAMPLES_A_TURN);
  for (let i = 0; i < frame.times.length; i++) {
    await turns.after(1);
    const [tag, time] = [frame.tags![i]!, frame.times[i]!];
    let known = byTag.get(tag);
    if (!known) byTag.set(tag, (known = new Map<number, string>()));
    const before = known.get(time);
    const now = printOf(frame, i);
    known.set(time, now);
    if (before === now) counts.unchanged++;
    else {
      counts.accepted++;
      if (before !== undefined) counts.replaced++;
    }
  }
}

/** Value and status as one text: equal when nothing would change. */
const printOf = (frame: Frame, i: number): string =>
  `${frame.texts.length > 0 ? JSON.stringify(textAt(frame, i)) : String(wholeAt(frame, i) ?? frame.values[i])} ${frame.status[i]!}`;
