/** Filling holes alone: of a file's values those that lie where nobody watched, or nothing stands. */
import { isBad, selectSamples, type Frame, type Span } from '@wide-ledger/core';
import { standingOfMany, type Archive } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { askedOf } from './comparing.ts';

const lies = (time: number, spans: readonly Span[]): boolean => spans.some(({ from, to }) => time >= from && time < to);

/**
 * The samples of a frame that fill a hole. Of a tag with a source a hole is what was neither watched nor recovered; where
 * a value stands that is good for something, there is none.
 */
export async function onlyHoles(
  frame: Frame,
  { stores, coverage }: Pick<Archive, 'stores' | 'coverage'>,
  catalogue: Catalogue,
): Promise<Frame> {
  const asked = askedOf(frame, catalogue);
  const whole = {
    from: Math.min(...asked.map(({ window }) => window.from)),
    to: Math.max(...asked.map(({ window }) => window.to)),
  };
  const sourced = asked
    .flatMap(({ tag }) => catalogue.tagById(tag.id) ?? [])
    .filter(({ sourceId }) => sourceId !== null);
  const missing = await coverage.missingOf(sourced, whole);
  const standing = new Map<number, ReadonlySet<number>>();
  await standingOfMany(stores, asked, (tag, { times, status }) =>
    standing.set(tag, new Set(times.filter((_, i) => !isBad(status[i]!)))),
  );
  return selectSamples(frame, (i) => {
    const [tag, time] = [frame.tags![i]!, frame.times[i]!];
    const holes = missing.get(tag)?.missing;
    return (holes === undefined || lies(time, holes)) && !standing.get(tag)?.has(time);
  });
}
