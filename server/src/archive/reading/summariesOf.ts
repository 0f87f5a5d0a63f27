/** Summaries of many tags, as the reading threads compute them. */
import type { CarriedSummary } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';
import type { Coverage } from '../coverage/coverage.ts';
import type { ReadingPool } from './pool.ts';
import { readTagOf } from './rules.ts';
import type { SummariesLine, SummariesRequest, WantedIntervals } from './summaries.ts';

/** A tag whose summaries are wanted. */
export interface SummarisedTag extends WantedIntervals {
  readonly tag: TagRow;
  readonly summaries: readonly CarriedSummary[];
}

/** @param visitor for whom it is read. @returns one line for each tag, in their order. */
export async function* summariesOf(
  reading: ReadingPool,
  coverage: Coverage,
  wanted: readonly SummarisedTag[],
  { over, zone }: Pick<SummariesRequest, 'over' | 'zone'>,
  visitor: string,
): AsyncGenerator<SummariesLine> {
  const watched = await coverage.watchedUntilOf(wanted.map(({ tag }) => tag.id));
  const tags = wanted.map(({ tag, ...rest }) => ({ ...rest, tag: readTagOf(tag, watched.get(tag.id) ?? -Infinity) }));
  const request: SummariesRequest = { kind: 'summaries', tags, over, zone };
  for await (const chunk of reading.read(request, visitor, new AbortController().signal))
    yield JSON.parse(chunk as string) as SummariesLine;
}
