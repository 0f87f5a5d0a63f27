/** Filling holes alone: of a file's values those that lie where nobody watched, or nothing stands. */
import { isBad, selectSamples, type Frame, type Span } from '@wide-ledger/core';
import { standingFrames, type Coverage, type Stores } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';

const lies = (time: number, spans: readonly Span[]): boolean => spans.some(({ from, to }) => time >= from && time < to);

/**
 * The samples of a frame that fill a hole. Of a tag with a source a hole is what was neither watched nor recovered; where
 * a value stands that is good for something, there is none.
 */
export async function onlyHoles(
  frame: Frame,
  stores: Stores,
  coverage: Coverage,
  catalogue: Catalogue,
): Promise<Frame> {
  const spans = new Map<number, { from: number; to: number }>();
  frame.tags!.forEach((tag, i) => {
    const time = frame.times[i]!;
    const known = spans.get(tag) ?? { from: time, to: time + 1 };
    spans.set(tag, { from: Math.min(known.from, time), to: Math.max(known.to, time + 1) });
  });
  const tags = [...spans.keys()].flatMap((id) => catalogue.tagById(id) ?? []);
  const whole = {
    from: Math.min(...[...spans.values()].map(({ from }) => from)),
    to: Math.max(...[...spans.values()].map(({ to }) => to)),
  };
  const missing = await coverage.missingOf(
    tags.filter(({ sourceId }) => sourceId !== null),
    whole,
  );
  const standing = new Map<number, ReadonlySet<number>>();
  for (const tag of tags) {
    const times = new Set<number>();
    for (const stands of await standingFrames(stores, tag, spans.get(tag.id)!))
      stands.times.forEach((time, i) => (isBad(stands.status[i]!) ? undefined : times.add(time)));
    standing.set(tag.id, times);
  }
  return selectSamples(frame, (i) => {
    const [tag, time] = [frame.tags![i]!, frame.times[i]!];
    const holes = missing.get(tag)?.missing;
    return (holes === undefined || lies(time, holes)) && !standing.get(tag)!.has(time);
  });
}
