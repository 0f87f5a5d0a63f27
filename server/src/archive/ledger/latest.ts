import type { Pool } from 'pg';
import { blockTable } from './parts.ts';

interface LastMonth {
  readonly tag: number;
  readonly month: number;
  readonly part: string;
}

/** The frames of the last blocks of tags in one store's ledger; tags without any are not in the answer. */
export async function latestBlocks(store: Pool, tags: readonly number[]): Promise<Map<number, Buffer>> {
  const found = new Map<number, Buffer>();
  let open: { tag: number; before: number }[] = tags.map((tag) => ({ tag, before: Number.MAX_SAFE_INTEGER }));
  // A month whose values were all removed has no block any more: the one before it is asked next.
  while (open.length > 0) {
    const { rows } = await store.query<LastMonth>(
      `SELECT wanted.tag, last.month, last.part FROM unnest($1::int[], $2::bigint[]) AS wanted(tag, before), LATERAL (
         SELECT month, part FROM ledger_month WHERE tag_id = wanted.tag AND month < wanted.before ORDER BY month DESC LIMIT 1) AS last`,
      [open.map(({ tag }) => tag), open.map(({ before }) => before)],
    );
    for (const part of new Set(rows.map((row) => row.part))) {
      const ofPart = rows.filter((row) => row.part === part);
      const { rows: blocks } = await store.query<{ tag: number; frame: Buffer }>(
        `SELECT wanted.tag, latest.frame FROM unnest($1::int[]) AS wanted(tag), LATERAL (
           SELECT frame FROM ${blockTable(part)} b WHERE b.tag_id = wanted.tag ORDER BY first_time DESC LIMIT 1) AS latest`,
        [ofPart.map(({ tag }) => tag)],
      );
      for (const { tag, frame } of blocks) found.set(tag, frame);
    }
    open = rows.filter(({ tag }) => !found.has(tag)).map(({ tag, month }) => ({ tag, before: month }));
  }
  return found;
}
