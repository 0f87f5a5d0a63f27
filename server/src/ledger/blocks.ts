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
  /** Of a block that is sure to be needed its bytes, found along with it. */
  readonly bytes?: Buffer | null;
}

/** The table of a UTC month, by the month's first microsecond. */
const monthTable = (table: MonthTable, month: number): string =>
  `${table}_${new Date(month / 1000).toISOString().slice(0, 7).replace('-', '')}`;

/** Things by the UTC month that they begin in. */
function byMonth<T>(things: readonly T[], firstOf: (thing: T) => number): Map<number, T[]> {
  const months = new Map<number, T[]>();
  for (const thing of things) {
    const month = monthStart(firstOf(thing));
    const known = months.get(month);
    if (known) known.push(thing);
    else months.set(month, [thing]);
  }
  return months;
}

// Blocks do not cross a month, so that each statement below goes to the one month's table that it concerns: planning it
// for hundreds of months would take longer than the work.

/**
 * For each span of a tag, which lies in one UTC month: the blocks of that month that overlap it, and up to eight before
 * it. Those before are candidates for being joined with what follows.
 * @returns one list per span, in their order.
 */
export async function findBlocks(
  client: PoolClient,
  spans: readonly { tag: number; first: number; last: number }[],
): Promise<BlockPlace[][]> {
  const found: BlockPlace[][] = spans.map(() => []);
  const numbered = spans.map((span, index) => ({ ...span, index }));
  for (const [month, ofMonth] of byMonth(numbered, ({ first }) => first)) {
    const table = monthTable('ledger_block', month);
    const { rows } = await client.query<BlockPlace & { span: number }>(
      `SELECT wanted.span, b.* FROM unnest($1::int[], $2::bigint[], $3::bigint[], $4::int[]) AS wanted(tag, lo, hi, span), LATERAL (
        (SELECT tag_id AS tag, first_time AS first, last_time AS last, samples, frame AS bytes FROM ${table}
           WHERE tag_id = wanted.tag AND first_time <= wanted.hi AND last_time >= wanted.lo)
        UNION ALL
        (SELECT tag_id, first_time, last_time, samples, NULL FROM ${table}
           WHERE tag_id = wanted.tag AND first_time < wanted.lo AND last_time < wanted.lo
           ORDER BY first_time DESC LIMIT 8)) AS b`,
      [
        ofMonth.map(({ tag }) => tag),
        ofMonth.map(({ first }) => first),
        ofMonth.map(({ last }) => last),
        ofMonth.map(({ index }) => index),
      ],
    );
    for (const { span, ...place } of rows) found[span]!.push(place);
  }
  return found;
}

/** The samples of blocks; those that came without their bytes are fetched. */
export async function readBlocks(client: PoolClient, places: readonly BlockPlace[]): Promise<Map<string, Frame>> {
  const blocks = new Map<string, Frame>();
  for (const place of places) if (place.bytes) blocks.set(keyOf(place), decodeFrame(place.bytes));
  const missing = places.filter(({ bytes }) => !bytes);
  for (const [month, ofMonth] of byMonth(missing, ({ first }) => first)) {
    const { rows } = await client.query<BlockKey & { frame: Buffer }>(
      `SELECT b.tag_id AS tag, b.first_time AS first, b.frame FROM unnest($1::int[], $2::bigint[]) AS k(tag, first)
         JOIN ${monthTable('ledger_block', month)} b ON b.tag_id = k.tag AND b.first_time = k.first`,
      [ofMonth.map(({ tag }) => tag), ofMonth.map(({ first }) => first)],
    );
    for (const row of rows) blocks.set(keyOf(row), decodeFrame(row.frame));
  }
  return blocks;
}

export const keyOf = ({ tag, first }: BlockKey): string => `${tag}@${first}`;

const BLOCK_COLUMNS = [
  'tag_id',
  'first_time',
  'last_time',
  'samples',
  'good_samples',
  'uncertain_samples',
  'least',
  'greatest',
  'total',
  'summary',
  'frame',
] as const;

export async function replaceBlocks(
  client: PoolClient,
  gone: readonly BlockKey[],
  come: readonly { tag: number; frame: Frame }[],
): Promise<void> {
  const blocks = come.map(({ tag, frame }) => ({ tag, ...summarise(frame), frame: Buffer.from(encodeFrame(frame)) }));
  // A block that begins where the old one did takes its place; only the others have to go.
  const staying = new Set(blocks.map(({ tag, firstTime: first }) => keyOf({ tag, first })));
  const leaving = gone.filter((key) => !staying.has(keyOf(key)));
  for (const [month, keys] of byMonth(leaving, ({ first }) => first)) {
    await client.query(
      `DELETE FROM ${monthTable('ledger_block', month)} b USING unnest($1::int[], $2::bigint[]) AS k(tag, first)
         WHERE b.tag_id = k.tag AND b.first_time = k.first`,
      [keys.map(({ tag }) => tag), keys.map(({ first }) => first)],
    );
  }
  for (const [month, ofMonth] of byMonth(blocks, ({ firstTime }) => firstTime)) {
    await client.query(
      `INSERT INTO ${monthTable('ledger_block', month)} (${BLOCK_COLUMNS.join(', ')})
         SELECT * FROM unnest($1::int[], $2::bigint[], $3::bigint[], $4::int[], $5::int[], $6::int[], $7::float8[], $8::float8[], $9::float8[], $10::bytea[], $11::bytea[])
         ON CONFLICT (tag_id, first_time) DO UPDATE SET (${BLOCK_COLUMNS.join(', ')}) = ROW (${BLOCK_COLUMNS.map((name) => `excluded.${name}`).join(', ')})`,
      [
        ofMonth.map((b) => b.tag),
        ofMonth.map((b) => b.firstTime),
        ofMonth.map((b) => b.lastTime),
        ofMonth.map((b) => b.count),
        ofMonth.map((b) => b.goodCount),
        ofMonth.map((b) => b.uncertainCount),
        ofMonth.map((b) => b.least),
        ofMonth.map((b) => b.greatest),
        ofMonth.map((b) => b.sum),
        ofMonth.map((b) => b.run && Buffer.from(packRun(b.run))),
        ofMonth.map((b) => b.frame),
      ],
    );
  }
}

/** An old value with who displaced it, when and why. */
export interface Modified extends Displaced {
  readonly tag: number;
  readonly writer: string;
  readonly at: Date;
  readonly reason: string | null;
}

/** @param prepare makes the tables of months, as {@link prepareMonths} does. */
export async function keepModified(
  client: PoolClient,
  modified: readonly Modified[],
  prepare: typeof prepareMonths = prepareMonths,
): Promise<void> {
  if (modified.length === 0) return;
  await prepare(client, 'modified_sample', new Set(modified.map(({ time }) => monthStart(time))));
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
