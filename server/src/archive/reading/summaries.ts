/** What a reading thread is asked of summaries over whole intervals, and what it answers, a line for each tag. */
import type { Span, CarriedSummary } from '@wide-ledger/core';
import type { ReadTag } from './readTag.ts';

/** Which intervals of a tag are wanted. */
export interface WantedIntervals {
  /** ended: those that ended within the span, its end included; within: those that meet it; touched: those that a change within it may have touched. */
  readonly which: 'ended' | 'within' | 'touched';
  readonly span: Span;
}

export interface SummariesRequest {
  readonly kind: 'summaries';
  readonly tags: readonly (WantedIntervals & {
    readonly tag: ReadTag;
    readonly summaries: readonly CarriedSummary[];
  })[];
  /** Microseconds; only intervals that are over by then. */
  readonly over: number;
  /** By whose clock calendar intervals begin. */
  readonly zone: string;
}

export const isAboutSummaries = (request: { readonly kind: string }): request is SummariesRequest =>
  request.kind === 'summaries';

/** The figures of a tag: by the place of the summary among those that were asked for. A value of null: there is none. */
export interface SummariesLine {
  readonly tag: number;
  readonly figures: readonly (readonly [summary: number, begin: number, value: number | null, status: number])[];
}
