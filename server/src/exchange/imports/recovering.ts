/** Gaps of collected tags that a file filled: told as recovered, as far as its values follow each other as usual. */
import type { RecoverySpan } from '@wide-ledger/contract';
import { clip, type Span } from '@wide-ledger/core';
import type { Archive, FilledLine, HolesOfTag } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';

/** What a file brought values of. Microseconds. */
export interface Brought extends Span {
  readonly tags: readonly number[];
}

/** The two together. @param before null: nothing was brought so far. */
export function joined(before: Brought | null, { tags, times }: { tags: Uint32Array | null; times: Float64Array }) {
  let [from, to] = before ? [before.from, before.to] : [Infinity, -Infinity];
  for (const time of times) {
    if (time < from) from = time;
    if (time >= to) to = time + 1;
  }
  return times.length === 0 ? before : { from, to, tags: [...new Set([...(before?.tags ?? []), ...tags!])] };
}

/** Tags that are asked in one reading. */
const TAGS_AT_ONCE = 200;

/**
 * Looks at the holes that a file lies in. What its values do not reach stays missing.
 * @param name of the file.
 * @param id of the import, as a visitor of the readings.
 */
export async function recoveriesBy(
  name: string,
  id: string,
  brought: Brought,
  catalogue: Catalogue,
  { coverage, reading }: Pick<Archive, 'coverage' | 'reading'>,
): Promise<RecoverySpan[]> {
  const rows = brought.tags.flatMap((tag) => catalogue.tagById(tag) ?? []).filter(({ sourceId }) => sourceId !== null);
  const missing = await coverage.missingOf(rows, brought);
  const sources = new Map(rows.map((row) => [row.id, row.sourceId!]));
  const asked = rows.flatMap((row): HolesOfTag[] => {
    const holes = missing.get(row.id)?.missing ?? [];
    const longestSilence = row.reading?.longestSilenceSeconds ?? null;
    return holes.length > 0 ? [{ tag: { id: row.id, store: row.storeId, longestSilence }, holes }] : [];
  });
  const found: RecoverySpan[] = [];
  const signal = new AbortController().signal;
  for (let at = 0; at < asked.length; at += TAGS_AT_ONCE) {
    const request = { kind: 'filled', tags: asked.slice(at, at + TAGS_AT_ONCE) } as const;
    for await (const chunk of reading.read(request, `import ${id}`, signal)) {
      const { tag, filled } = JSON.parse(chunk as string) as FilledLine;
      const spans = clip(filled, brought);
      const sentence = `Filled from ${name}, as far as its values follow each other as usual.`;
      for (const { from, to } of spans)
        found.push({ source: sources.get(tag)!, tag, from, to, outcome: 'recovered', sentence });
    }
  }
  return found;
}
