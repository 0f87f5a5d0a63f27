/**
 * Moving a tag with its history, its modified history and its annotations to another store, while it is collected.
 *
 * Most is copied while posting goes on. Then both stores' marks are taken, so that neither posts: the rest is copied,
 * the tag changes hands, and the old copy goes. A move that was cut off is taken up from its row in `tag_move`.
 */
import { cutIntoBlocks, decodeFrame, mergeFrames, monthStart } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import { keepModified, prepareMonths, replaceBlocks, type Modified, type MonthTable } from '../ledger/blocks.ts';
import { freshPart, markOf, type Mark } from '../ledger/entries.ts';
import { takeMark } from '../ledger/posting.ts';
import type { Stores } from './stores.ts';

export interface Move {
  readonly tag_id: number;
  readonly from_store: number;
  readonly to_store: number;
  readonly state: 'copying' | 'switched';
}

/** Tells how far the work is; false asks it to stop. */
export type Progress = (done: number, total: number) => Promise<boolean>;

const BLOCKS_AT_ONCE = 50;
const COLUMNS = `tag_id, first_time, last_time, samples, good_samples, uncertain_samples, least, greatest, total, summary, frame`;

const isBefore = (a: Mark, b: Mark): boolean =>
  BigInt(a.tx) === BigInt(b.tx) ? a.id < b.id : BigInt(a.tx) < BigInt(b.tx);

/** Moves a tag, from wherever an earlier attempt had got. @returns false when it was asked to stop while copying. */
export async function moveTag(stores: Stores, move: Move, progress: Progress): Promise<boolean> {
  const [source, target] = [await stores.pool(move.from_store), await stores.pool(move.to_store)];
  if (move.state === 'copying') {
    await describeTag(stores.home, target, move.tag_id);
    if (!(await reconcile(source, target, move.tag_id, progress))) return false;
    await changeHands(stores, source, target, move);
  }
  for (const table of ['ledger_block', 'modified_sample', 'annotation']) {
    await source.query(`DELETE FROM ${table} WHERE tag_id = $1`, [move.tag_id]);
  }
  await stores.home.query('DELETE FROM tag_move WHERE tag_id = $1', [move.tag_id]);
  return true;
}

/** The tag's name and type in a further store's own catalogue, for SQL readers there. */
async function describeTag(home: Pool, target: Pool, tag: number): Promise<void> {
  if (home === target) return;
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

interface BlockPrint {
  readonly first_time: number;
  readonly print: string;
}

const printsOf = async (pool: Pool, tag: number): Promise<BlockPrint[]> =>
  (
    await pool.query<BlockPrint>(
      'SELECT first_time, md5(frame) AS print FROM ledger_block WHERE tag_id = $1 ORDER BY first_time',
      [tag],
    )
  ).rows;

/** Makes the target's blocks of a tag those of the source. @returns false when it was asked to stop. */
async function reconcile(source: Pool, target: Pool, tag: number, progress: Progress): Promise<boolean> {
  const [here, there] = [await printsOf(source, tag), await printsOf(target, tag)];
  const known = new Map(there.map(({ first_time, print }) => [first_time, print]));
  const wanted = new Map(here.map(({ first_time, print }) => [first_time, print]));
  const extra = there.filter(({ first_time, print }) => wanted.get(first_time) !== print);
  const missing = here.filter(({ first_time, print }) => known.get(first_time) !== print);
  await target.query('DELETE FROM ledger_block WHERE tag_id = $1 AND first_time = ANY($2::bigint[])', [
    tag,
    extra.map(({ first_time }) => first_time),
  ]);
  for (let at = 0; at < missing.length; at += BLOCKS_AT_ONCE) {
    if (!(await progress(at, missing.length))) return false;
    const times = missing.slice(at, at + BLOCKS_AT_ONCE).map(({ first_time }) => first_time);
    const { rows } = await source.query<Record<string, unknown>>(
      `SELECT ${COLUMNS} FROM ledger_block WHERE tag_id = $1 AND first_time = ANY($2::bigint[])`,
      [tag, times],
    );
    await insertRows(target, 'ledger_block', rows, 'first_time');
  }
  return progress(missing.length, missing.length);
}

/** Inserts rows as they were read; the month tables they need are made first. */
async function insertRows(
  target: Pool,
  table: MonthTable,
  rows: readonly Record<string, unknown>[],
  timeColumn: string,
): Promise<void> {
  if (rows.length === 0) return;
  const months = new Set(rows.map((row) => monthStart(row[timeColumn] as number)));
  await prepareMonths(target, table, months);
  const columns = Object.keys(rows[0]!);
  for (const row of rows) {
    await target.query({
      name: `copy_${table}`,
      text: `INSERT INTO ${table} (${columns.join(', ')}) VALUES (${columns.map((_, i) => `$${i + 1}`).join(', ')})`,
      values: columns.map((name) => row[name]),
    });
  }
}

/** With both marks taken: the rest is copied and the tag belongs to the target from the target's mark on. */
async function changeHands(stores: Stores, source: Pool, target: Pool, move: Move): Promise<void> {
  for (;;) {
    const [sourceLock, targetLock] = [await source.connect(), await target.connect()];
    try {
      await Promise.all([sourceLock.query('BEGIN'), targetLock.query('BEGIN')]);
      // Always the lower number first, so that two moves never wait for each other.
      const locks = move.from_store < move.to_store ? [sourceLock, targetLock] : [targetLock, sourceLock];
      for (const lock of locks) await takeMark(lock, { wait: true });
      const [sourceMark, targetMark] = [await markOf(sourceLock), await markOf(targetLock)];
      if (isBefore(targetMark, sourceMark)) {
        // The target would post again what the source has posted already: it has to catch up first.
        await Promise.all([sourceLock.query('ROLLBACK'), targetLock.query('ROLLBACK')]);
        await new Promise((done) => setTimeout(done, 50));
        continue;
      }
      await reconcile(source, target, move.tag_id, () => Promise.resolve(true));
      for (const table of ['modified_sample', 'annotation'] as const)
        await copyTable(source, target, table, move.tag_id);
      await postBetween(stores.home, target, move.tag_id, sourceMark, targetMark);
      await stores.home.query(
        `WITH moved AS (UPDATE tag SET store_id = $2 WHERE id = $1 RETURNING id),
              noted AS (UPDATE tag_move SET state = 'switched' WHERE tag_id = $1)
         UPDATE configuration SET version = version + 1 FROM moved`,
        [move.tag_id, move.to_store],
      );
      return;
    } finally {
      await Promise.all([release(sourceLock), release(targetLock)]);
    }
  }
}

async function release(client: PoolClient): Promise<void> {
  const broken = await client.query('ROLLBACK').then(
    () => false,
    () => true,
  );
  client.release(broken);
}

async function copyTable(source: Pool, target: Pool, table: MonthTable, tag: number): Promise<void> {
  await target.query(`DELETE FROM ${table} WHERE tag_id = $1`, [tag]);
  const { rows } = await source.query<Record<string, unknown>>(`SELECT * FROM ${table} WHERE tag_id = $1`, [tag]);
  // Annotations are numbered by the store that they are in.
  const copies = rows.map(({ id: _id, ...rest }) => rest);
  await insertRows(target, table, copies, 'time');
}

/** What the target's mark has passed and the source's has not was posted by neither: it is posted here. */
async function postBetween(home: Pool, target: Pool, tag: number, after: Mark, until: Mark): Promise<void> {
  const { frames } = await freshPart(home, tag, after);
  const fresh = frames.filter(({ entry }) => !isBefore(until, entry));
  if (fresh.length === 0) return;
  const client = await target.connect();
  try {
    const times = fresh.flatMap(({ frame }) => [...frame.times]);
    await prepareMonths(client, 'ledger_block', new Set(times.map(monthStart)));
    await client.query('BEGIN');
    const { rows } = await client.query<{ first_time: number; frame: Buffer }>(
      'SELECT first_time, frame FROM ledger_block WHERE tag_id = $1 AND last_time >= $2 AND first_time <= $3 ORDER BY first_time',
      [tag, Math.min(...times), Math.max(...times)],
    );
    const merged = mergeFrames([...rows.map(({ frame }) => decodeFrame(frame)), ...fresh.map(({ frame }) => frame)]);
    const gone = rows.map(({ first_time }) => ({ tag, first: first_time }));
    await replaceBlocks(
      client,
      gone,
      cutIntoBlocks(merged.frame).map((frame) => ({ tag, frame })),
    );
    const modified = merged.displaced.map((one): Modified => {
      const { writer, received_at: at, reason } = fresh[one.by - rows.length]!.entry;
      return { ...one, tag, writer, at, reason };
    });
    await keepModified(client, modified);
    await client.query('COMMIT');
  } catch (error) {
    await client.query('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    client.release();
  }
}
