/** What is neither watched nor recovered of tags in a window, also where nobody was meant to watch them. */
import {
  SourceCoverage,
  clip,
  fatesOf,
  subtract,
  union,
  type ExplainedGap,
  type Recovery,
  type Span,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { TagRow } from '../../configuration/index.ts';
import { recordsOf, recoveriesOf, type Present } from './records.ts';

export interface MissingOfTag {
  readonly missing: readonly Span[];
  /** The gaps of its duty among it, with what became of them. */
  readonly gaps: readonly ExplainedGap[];
  /** What its source said that it does not have. */
  readonly gone: readonly Recovery[];
  /** Whether a collector is after some of it. */
  readonly wanted: boolean;
}

/** By the numbers of the tags. What lies in the future is not missing. */
export async function missingOf(
  home: Pool,
  tags: readonly TagRow[],
  window: Span,
  present: Present,
): Promise<Map<number, MissingOfTag>> {
  const past = clip([{ from: -Infinity, to: present.now }], window);
  const sources = [...new Set(tags.flatMap(({ sourceId }) => (sourceId === null ? [] : [sourceId])))];
  const [records, recoveries] = await Promise.all([
    recordsOf(home, window, present),
    recoveriesOf(home, sources, window, null),
  ]);
  const duties = new Map<number, { coverage: SourceCoverage; duty: readonly Span[] }[]>();
  for (const record of records.values()) {
    const coverage = new SourceCoverage(window, record);
    for (const { spans, tags: own } of record.groups)
      for (const tag of own) duties.set(tag, [...(duties.get(tag) ?? []), { coverage, duty: spans }]);
  }
  return new Map(
    tags.map(({ id, sourceId }) => {
      const own = duties.get(id) ?? [];
      const covered = union(own.flatMap(({ coverage, duty }) => coverage.tag(id, duty).spans));
      const gaps = own.flatMap(({ coverage, duty }) => coverage.gapsOf(id, duty));
      // What was fetched counts also where nobody was meant to watch.
      const told = (sourceId === null ? undefined : recoveries.get(sourceId)) ?? [];
      const ofSource = told.filter(({ tag }) => tag === 0);
      const { recovered, gone, wanted } = fatesOf(
        ofSource,
        told.filter(({ tag }) => tag === id),
      );
      const missing = subtract(subtract(past, covered), recovered);
      return [
        id,
        { missing, gaps: gaps.filter(({ state }) => state !== 'recovered'), gone, wanted: wanted.length > 0 },
      ];
    }),
  );
}
