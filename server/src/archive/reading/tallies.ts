/** What a reading thread is asked about what tags hold, and what it answers, a line for each tag. */
import type { CellTally, Span, TallyCell } from '@wide-ledger/core';

export interface TalliesRequest {
  readonly kind: 'tallies';
  readonly tags: readonly { readonly id: number; readonly store: number }[];
  readonly window: Span;
  readonly by: TallyCell;
}

export const isAboutTallies = (request: { readonly kind: string }): request is TalliesRequest =>
  request.kind === 'tallies';

/** The cells of a tag that hold something: where they begin and end, how many samples, and their tally. */
export interface TalliesLine {
  readonly tag: number;
  readonly cells: readonly CellTally[];
}
