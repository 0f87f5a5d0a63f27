/**
 * Moving a tag with its history, its modified history and its annotations to another store, while it is collected.
 *
 * Most is copied while posting goes on. Then both stores' marks are taken, so that neither posts: the rest is copied,
 * the tag changes hands, and the old copy goes. Every part is a step of the job, of which only one worker at a time can
 * be in the middle; a move that was cut off is taken up from its row in `tag_move`.
 */
import { cutIntoBlocks, decodeFrame, mergeFrames, monthStart } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import { inTransaction } from '../../ground/index.ts';
import { freshPart, markOf } from '../journal/entries.ts';
import { keepModified, replaceBlocks, type Modified } from '../ledger/blocks.ts';
import { changeLayout, takeMark } from '../ledger/mark.ts';
import { LedgerParts, blockTable, partsOfTag, type TagMonth } from '../ledger/parts.ts';
import type { Stores } from '../stores/stores.ts';

export interface Move {
  readonly tag_id: number;
  readonly from_store: number;
  readonly to_store: number;
  readonly state: 'copying' | 'switched';
}

/** Does a part of the work that nobody else can be at, and notes how far it is. False: stop, the work was not done. */
export type MoveStep = (work: () => Promise<{ done: number; total: number }>) => Promise<boolean>;

const BLOCKS_AT_ONCE = 50;
const COLUMNS = `tag_id, first_time, last_time, samples, good_samples, uncertain_samples, least, greatest, total, summary, frame`;
const CATCH_UP_MILLISECONDS = 50;

/** Moves a tag, from wherever an earlier attempt had got. @returns false when it was asked to stop while copying. */
export async function moveTag(stores: Stores, move: Move, step: MoveStep): Promise<boolean> {
  const [source, target] = [await stores.pool(move.from_store), await stores.pool(move.to_store)];
  if (move.state === 'copying' && !(await isAt(stores.home, move))) {
    if (!(await step(() => describeTag(stores.home, target, move.tag_id)))) return false;
    if (!(await copyAhead(source, target, move.tag_id, step))) return false;
    for (let changed = false; !changed;) {
      const goesOn = await step(async () => {
        changed = await changeHands(stores, source, target, move);
        return { done: 1, total: 1 };
      });
      if (!goesOn) return false;
      if (!changed) await new Promise((done) => setTimeout(done, CATCH_UP_MILLISECONDS));
    }
  }
  return step(async () => {
    await inTransaction(source, (client) => forgetTag(client, move.tag_id));
    await stores.home.query('DELETE FROM tag_move WHERE tag_id = $1', [move.tag_id]);
    return { done: 1, total: 1 };
  });
}

/** Whether the tag has changed hands already: what the source still holds is the copy that goes. */
async function isAt(home: Pool, { tag_id, to_store }: Move): Promise<boolean> {
  const { rows } = await home.query<{ store_id: number }>('SELECT store_id FROM tag WHERE id = $1', [tag_id]);
  return rows[0]?.store_id === to_store;
}

/** All that a store holds of a tag. */
async function forgetTag(client: PoolClient, tag: number): Promise<void> {
  for (const part of await partsOfTag(client, tag)) {
    await client.query(`DELETE FROM ${blockTable(part)} WHERE tag_id = $1`, [tag]);
  }
  for (const table of ['ledger_month', 'modified_sample', 'annotation']) {
    await client.query(`DELETE FROM ${table} WHERE tag_id = $1`, [tag]);
  }
}

/** The tag's name and type in a further store's own catalogue, for SQL readers there. */
async function describeTag(home: Pool, target: Pool, tag: number): Promise<{ done: number; total: number }> {
  if (home !== target) {
    const { rows } = await home.query<Record<string, unknown>>(
      'SELECT id, name, type, unit, description, place, stepped, low, high, states, in_force_since FROM tag WHERE id = $1',
      [tag],
    );
    const columns = Object.keys(rows[0]!);
    await target.query(
      `INSERT INTO tag (${columns.join(', ')}) OVERRIDING SYSTEM VALUE VALUES (${columns.map((_, i) => `$${i + 1}`).join(', ')})
       ON CONFLICT (id) DO UPDATE SET (${columns.slice(1).join(', ')}) = ROW(${columns
         .slice(1)
         .map((name) => `excluded.${name}`)
         .join(', ')})`,
      columns.map((name) => (name === 'states' && rows[0]![name] ? JSON.stringify(rows[0]![name]) : rows[0]![name])),
    );
  }
  return { done: 0, total: 1 };
}

/** A block by where it begins and what is in it. */
interface BlockPrint {
  readonly part: string;
  readonly first_time: number;
  readonly samples: number;
  readonly print: string;
}

async function printsOf(store: Pool | PoolClient, tag: number): Promise<BlockPrint[]> {
  const prints: BlockPrint[] = [];
  for (const part of await partsOfTag(store, tag)) {
    const { rows } = await store.query<Omit<BlockPrint, 'part'>>(
      `SELECT first_time, samples, md5(frame) AS print FROM ${blockTable(part)} WHERE tag_id = $1`,
      [tag],
    );
    for (const row of rows) prints.push({ part, ...row });
  }
  return prints.sort((a, b) => a.first_time - b.first_time);
}

/** What has to go from the target and to come from the source for both to hold the same blocks of a tag. */
async function compare(
  source: Pool | PoolClient,
  target: Pool | PoolClient,
  tag: number,
): Promise<{ extra: BlockPrint[]; missing: BlockPrint[] }> {
  const [here, there] = [await printsOf(source, tag), await printsOf(target, tag)];
  const byTime = (prints: readonly BlockPrint[]): Map<number, string> =>
    new Map(prints.map(({ first_time, print }) => [first_time, print]));
  const [wanted, known] = [byTime(here), byTime(there)];
  return {
    extra: there.filter(({ first_time, print }) => wanted.get(first_time) !== print),
    missing: here.filter(({ first_time, print }) => known.get(first_time) !== print),
  };
}

/** Copies what the target lacks, some blocks a step, while posting goes on. */
async function copyAhead(source: Pool, target: Pool, tag: number, step: MoveStep): Promise<boolean> {
  const { extra, missing } = await compare(source, target, tag);
  for (let at = 0; at < missing.length || (at === 0 && extra.length > 0); at += BLOCKS_AT_ONCE) {
    const goesOn = await step(async () => {
      await inTransaction(target, async (client) => {
        if (at === 0) await removeBlocks(client, tag, extra);
        await copyBlocks(source, client, partsFor(target), tag, missing.slice(at, at + BLOCKS_AT_ONCE));
      });
      return { done: Math.min(at + BLOCKS_AT_ONCE, missing.length), total: missing.length };
    });
    if (!goesOn) return false;
  }
  return true;
}

/** Where months are in a store, for one transaction: what was true in the one before need not be any more. */
const partsFor = (store: Pool): LedgerParts => new LedgerParts(() => Promise.resolve(store));

const byPart = (blocks: readonly BlockPrint[]): Map<string, number[]> => {
  const parts = new Map<string, number[]>();
  for (const { part, first_time } of blocks) parts.set(part, [...(parts.get(part) ?? []), first_time]);
  return parts;
};

async function removeBlocks(client: PoolClient, tag: number, blocks: readonly BlockPrint[]): Promise<void> {
  for (const [part, times] of byPart(blocks)) {
    await client.query(`DELETE FROM ${blockTable(part)} WHERE tag_id = $1 AND first_time = ANY($2::bigint[])`, [
      tag,
      times,
    ]);
  }
}

async function copyBlocks(
  source: Pool | PoolClient,
  target: PoolClient,
  parts: LedgerParts,
  tag: number,
  blocks: readonly BlockPrint[],
): Promise<void> {
  await parts.settle(target, tagMonthsOf(tag, blocks), { gather: false });
  for (const [part, times] of byPart(blocks)) {
    const { rows } = await source.query<Record<string, unknown>>(
      `SELECT ${COLUMNS} FROM ${blockTable(part)} WHERE tag_id = $1 AND first_time = ANY($2::bigint[])`,
      [tag, times],
    );
    for (const row of rows) await insertRow(target, blockTable(parts.of(tag, row.first_time as number)), row);
  }
}

/** How much a tag's months hold altogether, so that those that hold much get tables of their own. */
function tagMonthsOf(tag: number, blocks: readonly { first_time: number; samples: number }[]): TagMonth[] {
  const months = new Map<number, number>();
  for (const { first_time, samples } of blocks) {
    const month = monthStart(first_time);
    months.set(month, (months.get(month) ?? 0) + samples);
  }
  return [...months].map(([month, samples]) => ({ tag, month, samples }));
}

async function insertRow(target: PoolClient, table: string, row: Record<string, unknown>): Promise<void> {
  const columns = Object.keys(row);
  await target.query(
    `INSERT INTO ${table} (${columns.join(', ')}) VALUES (${columns.map((_, i) => `$${i + 1}`).join(', ')})`,
    columns.map((name) => row[name]),
  );
}

/**
 * With both marks taken: the rest is copied, and the tag belongs to the target from the target's mark on. What is
 * written to the target is written by the connection that holds its mark.
 * @returns false where the target has to catch up first: it would post again what the source has posted already.
 */
async function changeHands(stores: Stores, source: Pool, target: Pool, move: Move): Promise<boolean> {
  const hold = (store: Pool, work: (client: PoolClient) => Promise<boolean>): Promise<boolean> =>
    inTransaction(store, async (client) => {
      await takeMark(client, { wait: true });
      return work(client);
    });
  const change = async (from: PoolClient, to: PoolClient): Promise<boolean> => {
    const parts = partsFor(target);
    const [sourceMark, targetMark] = [await markOf(from), await markOf(to)];
    if (targetMark < sourceMark) return false;
    const { extra, missing } = await compare(from, to, move.tag_id);
    await removeBlocks(to, move.tag_id, extra);
    await copyBlocks(from, to, parts, move.tag_id, missing);
    for (const table of ['modified_sample', 'annotation']) await copyTable(from, to, table, move.tag_id);
    await postBetween(stores.home, to, parts, move.tag_id, sourceMark, targetMark);
    // Whoever posts there may remember where the tag's months were when it was there before.
    await changeLayout(to);
    // The copy is there for good before the tag is said to be there.
    await to.query('COMMIT');
    await to.query('BEGIN');
    await takeMark(to, { wait: true });
    if ((await markOf(to)) !== targetMark) return false;
    await stores.home.query(
      `WITH next AS (UPDATE configuration SET epoch = epoch + 1 RETURNING epoch),
            noted AS (UPDATE tag_move SET state = 'switched' WHERE tag_id = $1)
       UPDATE tag SET store_id = $2, epoch = next.epoch FROM next WHERE id = $1`,
      [move.tag_id, move.to_store],
    );
    return true;
  };
  // Always the lower number first, so that two moves never wait for each other.
  return move.from_store < move.to_store
    ? hold(source, (from) => hold(target, (to) => change(from, to)))
    : hold(target, (to) => hold(source, (from) => change(from, to)));
}

async function copyTable(source: PoolClient, target: PoolClient, table: string, tag: number): Promise<void> {
  await target.query(`DELETE FROM ${table} WHERE tag_id = $1`, [tag]);
  const { rows } = await source.query<Record<string, unknown>>(`SELECT * FROM ${table} WHERE tag_id = $1`, [tag]);
  // Annotations are numbered by the store that they are in.
  for (const { id: _id, ...row } of rows) await insertRow(target, table, row);
}

/** What the target's mark has passed and the source's has not was posted by neither: it is posted here. */
async function postBetween(
  home: Pool,
  target: PoolClient,
  parts: LedgerParts,
  tag: number,
  after: number,
  until: number,
): Promise<void> {
  const { frames } = await freshPart(home, tag, after);
  const fresh = frames.filter(({ entry }) => entry.id <= until);
  if (fresh.length === 0) return;
  const times = fresh.flatMap(({ frame }) => [...frame.times]);
  const [first, last] = times.reduce(
    ([low, high], time) => [Math.min(low, time), Math.max(high, time)],
    [Infinity, -Infinity],
  );
  const rows: { first_time: number; samples: number; frame: Buffer }[] = [];
  for (const part of await partsOfTag(target, tag)) {
    const found = await target.query<{ first_time: number; samples: number; frame: Buffer }>(
      `SELECT first_time, samples, frame FROM ${blockTable(part)} WHERE tag_id = $1 AND last_time >= $2 AND first_time <= $3`,
      [tag, first, last],
    );
    rows.push(...found.rows);
  }
  rows.sort((a, b) => a.first_time - b.first_time);
  const coming = times.map((first_time) => ({ first_time, samples: 1 }));
  await parts.settle(target, tagMonthsOf(tag, [...rows, ...coming]), { gather: false });
  const merged = mergeFrames([...rows.map(({ frame }) => decodeFrame(frame)), ...fresh.map(({ frame }) => frame)]);
  const gone = rows.map(({ first_time }) => ({ tag, first: first_time }));
  await replaceBlocks(
    target,
    parts,
    gone,
    cutIntoBlocks(merged.frame).map((frame) => ({ tag, frame })),
  );
  const modified = merged.displaced.map((one): Modified => {
    const { writer, received_at: at, reason } = fresh[one.by - rows.length]!.entry;
    return { ...one, tag, writer, at, reason };
  });
  await keepModified(target, modified);
}
