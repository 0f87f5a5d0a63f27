/** What was computed, on its way into the journal. */
import type { Frame } from '@wide-ledger/core';

/** Under whose name derived values are in the journal. */
export const DERIVED_WRITER = 'formulas';

/** Values of one derived tag that are to be written. */
export interface DerivedValues {
  readonly tag: number;
  readonly frame: Frame;
  /** Whether they take the place of others, since what they are computed from has changed. */
  readonly again: boolean;
}

/** Values of several tags as frames of an entry: numbers and texts apart. */
export function entryFrames(values: readonly DerivedValues[]): Frame[] {
  const numbers = values.filter(({ frame }) => frame.texts.length === 0);
  const texts = values.filter(({ frame }) => frame.texts.length > 0);
  return [numbers, texts].filter((some) => some.length > 0).map(together);
}

function together(values: readonly DerivedValues[]): Frame {
  const tags = values.flatMap(({ tag, frame }) => Array<number>(frame.times.length).fill(tag));
  const texts = [...new Set(values.flatMap(({ frame }) => frame.texts))];
  const places = new Map(texts.map((text, i) => [text, i]));
  const all = <T>(of: (frame: Frame) => Iterable<T>): T[] => values.flatMap(({ frame }) => [...of(frame)]);
  return {
    tags: Uint32Array.from(tags),
    times: Float64Array.from(all(({ times }) => times)),
    values: Float64Array.from(
      all((frame) =>
        texts.length === 0 ? frame.values : [...frame.values].map((at) => places.get(frame.texts[at]!) ?? NaN),
      ),
    ),
    status: Uint32Array.from(all(({ status }) => status)),
    origins: null,
    texts,
  };
}
