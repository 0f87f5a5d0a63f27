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
import type { PoolClient } from 'pg';
import { blockTable, type LedgerParts } from './parts.ts';

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

/** Things by the table of the ledger that they belong into. */
function byTable<T>(parts: LedgerParts, things: readonly T[], placeOf: (thing: T) => BlockKey): Map<string, T[]> {
  const tables = new Map<string, T[]>();
  for (const thing of things) {
    const { tag, first } = placeOf(thing);
    const table = blockTable(parts.of(tag, first));
    const known = tables.get(table);
    if (known) known.push(thing);
    else tables.set(table, [thing]);
  }
  return tables;
}

// Each statement below goes to the one table that it concerns: planning it for hundreds of months would take longer than
// the work.

/**
 * For each span of a tag, which lies in one UTC month: the blocks of that month that overlap it, and up to eight before
 * it. Those before are candidates for being joined with what follows.
 * @returns one list per span, in their order.
 */
export async function findBlocks(
  client: PoolClient,
  parts: LedgerParts,
  spans: readonly { tag: number; first: number; last: number }[],
): Promise<BlockPlace[][]> {
  const found: BlockPlace[][] = spans.map(() => []);
  const numbered = spans.map((span, index) => ({ ...span, index }));
  for (const [table, ofTable] of byTable(parts, numbered, (span) => span)) {
    const { rows } = await client.query<BlockPlace & { span: number }>(
      `SELECT wanted.span, b.* FROM unnest($1::int[], $2::bigint[], $3::bigint[], $4::int[], $5::bigint[]) AS wanted(tag, lo, hi, span, month), LATERAL (
        (SELECT tag_id AS tag, first_time AS first, last_time AS last, samples, frame AS bytes FROM ${table}
           WHERE tag_id = wanted.tag AND first_time >= wanted.month AND first_time <= wanted.hi AND last_time >= wanted.lo)
        UNION ALL
        (SELECT tag_id, first_time, last_time, samples, NULL FROM ${table}
           WHERE tag_id = wanted.tag AND first_time >= wanted.month AND first_time < wanted.lo AND last_time < wanted.lo
           ORDER BY first_time DESC LIMIT 8)) AS b`,
      [
        ofTable.map(({ tag }) => tag),
        ofTable.map(({ first }) => first),
        ofTable.map(({ last }) => last),
        ofTable.map(({ index }) => index),
        ofTable.map(({ first }) => monthStart(first)),
      ],
    );
    for (const { span, ...place } of rows) found[span]!.push(place);
  }
  return found;
}

/** The samples of blocks; those that came without their bytes are fetched. */
export async function readBlocks(
  client: PoolClient,
  parts: LedgerParts,
  places: readonly BlockPlace[],
): Promise<Map<string, Frame>> {
  const blocks = new Map<string, Frame>();
  for (const place of places) if (place.bytes) blocks.set(keyOf(place), decodeFrame(place.bytes));
  const missing = places.filter(({ bytes }) => !bytes);
  for (const [table, ofTable] of byTable(parts, missing, (place) => place)) {
    const { rows } = await client.query<BlockKey & { frame: Buffer }>(
      `SELECT b.tag_id AS tag, b.first_time AS first, b.frame FROM unnest($1::int[], $2::bigint[]) AS k(tag, first)
         JOIN ${table} b ON b.tag_id = k.tag AND b.first_time = k.first`,
      [ofTable.map(({ tag }) => tag), ofTable.map(({ first }) => first)],
    );
    for (const row of rows) blocks.set(keyOf(row), decodeFrame(row.frame));
  }
  return blocks;
}

/** A block's name in a map: its tag and its first microsecond. */
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

/** Blocks go and come; where they are kept was settled before. */
export async function replaceBlocks(
  client: PoolClient,
  parts: LedgerParts,
  gone: readonly BlockKey[],
  come: readonly { tag: number; frame: Frame }[],
): Promise<void> {
  const blocks = come.map(({ tag, frame }) => ({ tag, ...summarise(frame), frame: Buffer.from(encodeFrame(frame)) }));
  // A block that begins where the old one did takes its place; only the others have to go.
  const staying = new Set(blocks.map(({ tag, firstTime: first }) => keyOf({ tag, first })));
  const leaving = gone.filter((key) => !staying.has(keyOf(key)));
  for (const [table, keys] of byTable(parts, leaving, (key) => key)) {
    await client.query(
      `DELETE FROM ${table} b USING unnest($1::int[], $2::bigint[]) AS k(tag, first)
         WHERE b.tag_id = k.tag AND b.first_time = k.first`,
      [keys.map(({ tag }) => tag), keys.map(({ first }) => first)],
    );
  }
  for (const [table, ofTable] of byTable(parts, blocks, ({ tag, firstTime: first }) => ({ tag, first }))) {
    await client.query(
      `INSERT INTO ${table} (${BLOCK_COLUMNS.join(', ')})
         SELECT * FROM unnest($1::int[], $2::bigint[], $3::bigint[], $4::int[], $5::int[], $6::int[], $7::float8[], $8::float8[], $9::float8[], $10::bytea[], $11::bytea[])
         ON CONFLICT (tag_id, first_time) DO UPDATE SET (${BLOCK_COLUMNS.join(', ')}) = ROW (${BLOCK_COLUMNS.map((name) => `excluded.${name}`).join(', ')})`,
      [
        ofTable.map((b) => b.tag),
        ofTable.map((b) => b.firstTime),
        ofTable.map((b) => b.lastTime),
        ofTable.map((b) => b.count),
        ofTable.map((b) => b.goodCount),
        ofTable.map((b) => b.uncertainCount),
        ofTable.map((b) => b.least),
        ofTable.map((b) => b.greatest),
        ofTable.map((b) => b.sum),
        ofTable.map((b) => b.run && Buffer.from(packRun(b.run))),
        ofTable.map((b) => b.frame),
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

/** PostgreSQL's texts hold no U+0000, which older entries may hold: it is kept as its symbol. */
const withoutNul = (text: string): string => text.replaceAll('\0', '\u2400');

/** Adds old values to the modified history, in the transaction that displaced them. */
export async function keepModified(client: PoolClient, modified: readonly Modified[]): Promise<void> {
  if (modified.length === 0) return;
  await client.query(
    `INSERT INTO modified_sample (tag_id, time, value, text, status, origin, kind, modified_by, modified_at, reason)
       SELECT * FROM unnest($1::int[], $2::bigint[], $3::float8[], $4::text[], $5::bigint[], $6::smallint[], $7::text[], $8::text[], $9::timestamptz[], $10::text[])`,
    [
      modified.map((m) => m.tag),
      modified.map((m) => m.time),
      modified.map((m) => (Number.isNaN(m.value) ? null : m.value)),
      modified.map((m) => (m.text === null ? (m.whole?.toString() ?? null) : withoutNul(m.text))),
      modified.map((m) => m.status),
      modified.map((m) => m.origin),
      modified.map((m) => m.kind),
      modified.map((m) => m.writer),
      modified.map((m) => m.at),
      modified.map((m) => m.reason),
    ],
  );
}
