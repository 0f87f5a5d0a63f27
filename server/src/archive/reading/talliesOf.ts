/** Tallies of many tags, as the reading threads find them. */
import type { Span, TallyCell } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';
import type { ReadingPool } from './pool.ts';
import type { TalliesLine } from './tallies.ts';

/** @param visitor for whom it is read. @returns one line for each tag, in their order. */
export async function* talliesOf(
  reading: ReadingPool,
  tags: readonly Pick<TagRow, 'id' | 'storeId'>[],
  window: Span,
  by: TallyCell,
  visitor: string,
  signal: AbortSignal = new AbortController().signal,
): AsyncGenerator<TalliesLine> {
  const asked = tags.map(({ id, storeId: store }) => ({ id, store }));
  for await (const chunk of reading.read({ kind: 'tallies', tags: asked, window, by }, visitor, signal))
    yield* JSON.parse(chunk as string) as TalliesLine[];
}
