/** What a strip is drawn from, and what is said of one that is whole. */
import type { CoverageRow } from '@wide-ledger/contract';
import { lengthWords } from '../window/times.ts';

/** What a strip is drawn from. */
export type StripRow = Pick<CoverageRow, 'duty' | 'spans' | 'gaps' | 'watchedPercent' | 'estimate'>;

/** What is said of a strip without a gap. */
export function wholeWords({ estimate, spans }: StripRow): string {
  if (estimate === undefined) return 'watched throughout this window';
  if (spans.length === 0) return 'no values';
  if (estimate === null) return 'values that are too few to tell of gaps';
  const every = lengthWords(estimate.usualSeconds * 1000);
  return `values about every ${every} by their own times; nobody records what is watched`;
}
