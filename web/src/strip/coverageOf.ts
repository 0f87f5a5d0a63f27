/** A tag's row of coverage: its own where it differs from its source's, or has none. */
import type { CoverageAnswer, Tag } from '@wide-ledger/contract';
import type { StripRow } from './stripRow.ts';

const NOT_WATCHED = { duty: [], spans: [], gaps: [], watchedPercent: 0 };

export function coverageOf(
  answer: CoverageAnswer | undefined,
  tag: Pick<Tag, 'name' | 'sourceId'>,
): StripRow | undefined {
  if (!answer) return undefined;
  const own = answer.rows.find((row) => row.tag === tag.name);
  return own ?? answer.rows.find((row) => row.tag === null && row.sourceId === tag.sourceId) ?? NOT_WATCHED;
}
