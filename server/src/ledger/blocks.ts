/** Ledger blocks in the database. */
import {
  decodeFrame,
  encodeFrame,
  monthStart,
  packRun,
  summarise,
  type Displaced,
  type Frame,
} from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';

export interface BlockKey {
  readonly tag: number;
  readonly first: number;
}

export interface BlockPlace extends BlockKey {
  readonly last: number;
  readonly samples: number;
}

/**
 * For each span of a tag: the blocks that overlap it, and up to eight before it. Those before are candidates for
 * being joined with what follows.
 * @returns one list per span, in their order.
 */
export async function findBlocks(
  client: PoolClient,
  spans: readonly { tag: number; first: number; last: number }[],
): Promise<BlockPlace[][]> {
  const { rows } = await client.query<{
    span: number;
    tag_id: number;
    first_time: number;
    last_time: number;
    samples: number;
  }>({
    name: 'find_blocks',
    text: `SELECT wanted.span, b.* FROM unnest($1::int[], $2::bigint[], $3::bigint[], $4::bigint[]) WITH ORDINALITY AS wanted(tag, lo, hi, month, span), LATERAL (
      (SELECT tag_id, first_time, last_time, samples FROM ledger_block
         WHERE tag_id = wanted.tag AND first_time >= wanted.month AND first_time <= wanted.hi AND last_time >= wanted.lo)
      UNION ALL
      (SELECT tag_id, first_time, last_time, samples FROM ledger_block
         WHERE tag_id = wanted.tag AND first_time >= wanted.month AND first_time < wanted.lo AND last_time < wanted.lo
         ORDER BY first_time DESC LIMIT 8)) AS b`,
    values: [
      spans.map(({ tag }) => tag),
      spans.map(({ first }) => first),
      spans.map(({ last }) => last),
      spans.map(({ first }) => monthStart(first)),
    ],
  });
  const found: BlockPlace[][] = spans.map(() => []);
  for (const { span, tag_id, first_time, last_time, samples } of rows) {
    found[span - 1]!.push({ tag: tag_id, first: first_time, last: last_time, samples });
  }
  return found;
}

export async function readBlocks(client: PoolClient, keys: readonly BlockKey[]): Promise<Map<string, Frame>> {
  if (keys.length === 0) return new Map();
  const { rows } = await client.query<{ tag_id: number; first_time: number; frame: Buffer }>(
    `SELECT b.tag_id, b.first_time, b.frame FROM unnest($1::int[], $2::bigint[]) AS k(tag, first)
       JOIN ledger_block b ON b.tag_id = k.tag AND b.first_time = k.first`,
    [keys.map(({ tag }) => tag), keys.map(({ first }) => first)],
  );
  return new Map(rows.map((row) => [keyOf({ tag: row.tag_id, first: row.first_time }), decodeFrame(row.frame)]));
}

export const keyOf = ({ tag, first }: BlockKey): string => `${tag}@${first}`;

export async function replaceBlocks(
  client: PoolClient,
  gone: readonly BlockKey[],
  come: readonly { tag: number; frame: Frame }[],
): Promise<void> {
  if (gone.length > 0) {
    await client.query(
      'DELETE FROM ledger_block b USING unnest($1::int[], $2::bigint[]) AS k(tag, first) WHERE b.tag_id = k.tag AND b.first_time = k.first',
      [gone.map(({ tag }) => tag), gone.map(({ first }) => first)],
    );
  }
  const blocks = come.map(({ tag, frame }) => ({ tag, ...summarise(frame), frame: Buffer.from(encodeFrame(frame)) }));
  await client.query(
    `INSERT INTO ledger_block (tag_id, first_time, last_time, samples, good_samples, uncertain_samples, least, greatest, total, summary, frame)
       SELECT * FROM unnest($1::int[], $2::bigint[], $3::bigint[], $4::int[], $5::int[], $6::int[], $7::float8[], $8::float8[], $9::float8[], $10::bytea[], $11::bytea[])`,
    [
      blocks.map((b) => b.tag),
      blocks.map((b) => b.firstTime),
      blocks.map((b) => b.lastTime),
      blocks.map((b) => b.count),
      blocks.map((b) => b.goodCount),
      blocks.map((b) => b.uncertainCount),
      blocks.map((b) => b.least),
      blocks.map((b) => b.greatest),
      blocks.map((b) => b.sum),
      blocks.map((b) => b.run && Buffer.from(packRun(b.run))),
      blocks.map((b) => b.frame),
    ],
  );
}

/** An old value with who displaced it, when and why. */
export interface Modified extends Displaced {
  readonly tag: number;
  readonly writer: string;
  readonly at: Date;
  readonly reason: string | null;
}

export async function keepModified(client: PoolClient, modified: readonly Modified[]): Promise<void> {
  if (modified.length === 0) return;
  await prepareMonths(client, 'modified_sample', new Set(modified.map(({ time }) => monthStart(time))));
  await client.query(
    `INSERT INTO modified_sample (tag_id, time, value, text, status, origin, kind, modified_by, modified_at, reason)
       SELECT * FROM unnest($1::int[], $2::bigint[], $3::float8[], $4::text[], $5::bigint[], $6::smallint[], $7::text[], $8::text[], $9::timestamptz[], $10::text[])`,
    [
      modified.map((m) => m.tag),
      modified.map((m) => m.time),
      modified.map((m) => (Number.isNaN(m.value) ? null : m.value)),
      modified.map((m) => m.text ?? m.whole?.toString() ?? null),
      modified.map((m) => m.status),
      modified.map((m) => m.origin),
      modified.map((m) => m.kind),
      modified.map((m) => m.writer),
      modified.map((m) => m.at),
      modified.map((m) => m.reason),
    ],
  );
}

/** The tables that keep history by months; each is made when its first row comes. */
export type MonthTable = 'ledger_block' | 'modified_sample' | 'annotation';

/**
 * Makes a table's parts for these months. For the ledger outside the posting's transaction: making one locks the table
 * for a moment.
 */
export async function prepareMonths(
  client: Pool | PoolClient,
  table: MonthTable,
  months: Iterable<number>,
): Promise<void> {
  await client.query('SELECT ensure_month($1, month) FROM unnest($2::bigint[]) AS month', [table, [...months]]);
}
