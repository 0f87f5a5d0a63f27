/** What a reading thread is asked when data are examined for what they betray, and what it answers, a line of JSON a chunk. */
import type { Doubt, Span } from '@wide-ledger/core';
import type { TagRow } from '../../configuration/index.ts';

/** A tag as its motion is looked at. */
export interface ExaminedTag extends Pick<TagRow, 'id' | 'low' | 'high' | 'unit'> {
  readonly store: number;
  /** Only looked at for the sake of others. */
  readonly beside: boolean;
  /** A number that is meant to move. */
  readonly moves: boolean;
  readonly counts: boolean;
  /** Whether a value holds until the next is told: somebody watches it. */
  readonly holds: boolean;
  /** How often it is read, where a collector asks for it again and again; else null. */
  readonly intervalMilliseconds: number | null;
  /** Up to when it was watched, in microseconds. */
  readonly watchedUntil: number;
}

/** How tags that lie together move, and where they leave their range. */
export interface MotionRequest {
  readonly kind: 'motion';
  readonly window: Span;
  readonly tags: readonly ExaminedTag[];
}

/** In which order values came, as far as the journal goes back. */
export interface ArrivalRequest {
  readonly kind: 'arrival';
  readonly window: Span;
  /** Those that are examined, and their sources. */
  readonly tags: readonly { readonly tag: number; readonly source: number | null }[];
}

export type ExaminingRequest = MotionRequest | ArrivalRequest;

export const isExamining = (request: { readonly kind: string }): request is ExaminingRequest =>
  request.kind === 'motion' || request.kind === 'arrival';

/** A doubt, and what it is about. */
export interface FoundDoubt {
  readonly tag: number | null;
  readonly source: number | null;
  readonly doubt: Doubt;
}

/** How far it is, of what it has to go through; with the last line what was found. */
export interface ExaminingLine {
  readonly done: number;
  readonly total: number;
  readonly found?: readonly FoundDoubt[];
  /** Of the arrival: since when it is known within the window, in microseconds; null: of nothing in it. */
  readonly since?: number | null;
}
