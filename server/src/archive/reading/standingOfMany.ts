/** The samples that stand of many tags, in one snapshot of each store: what a wide file is held against. */
import { decodeFrame, firstAtOrAfter, mergeFrames, sliceFrame, type Frame, type Span } from '@wide-ledger/core';
import type { PoolClient } from 'pg';
import type { TagRow } from '../../configuration/index.ts';
import { Turns } from '../../ground/index.ts';
import { freshParts, type FreshParts } from '../journal/entries.ts';
import type { Stores } from '../stores/stores.ts';
import { inSnapshot } from './snapshot.ts';
import { TagTables } from './tagTables.ts';

/** A tag, and the window [from, to) of it that is asked for. Microseconds. */
export interface StandingAsked {
  readonly tag: Pick<TagRow, 'id' | 'storeId'>;
  readonly window: Span;
}

/** Tags whose blocks are fetched at a time: enough to amortise a query, few enough to keep memory flat. */
const TAGS_AT_ONCE = 64;
/** Samples that are merged before others have their turn. */
const SAMPLES_A_TURN = 50_000;

/**
 * Hands over what stands of each tag in its window, posted or not, in time order; of a tag without samples there nothing
 * is handed over.
 */
export async function standingOfMany(
  stores: Stores,
  asked: readonly StandingAsked[],
  take: (tag: number, frame: Frame) => void,
): Promise<void> {
  for (const store of new Set(asked.map(({ tag }) => tag.storeId))) {
    const here = asked.filter(({ tag }) => tag.storeId === store);
    const moved = await inStore(stores, store, here, take);
    // Moved meanwhile: their history is where they are now.
    if (moved.length > 0) await standingOfMany(stores, moved, take);
  }
}

/** What stands of one tag in a window, in time order; null for nothing. */
export async function standingOf(stores: Stores, tag: StandingAsked['tag'], window: Span): Promise<Frame | null> {
  let standing: Frame | null = null;
  await standingOfMany(stores, [{ tag, window }], (_tag, frame) => (standing = frame));
  return standing;
}

/** @returns those that are in another store by now. */
const inStore = (
  stores: Stores,
  store: number,
  asked: readonly StandingAsked[],
  take: (tag: number, frame: Frame) => void,
): Promise<StandingAsked[]> =>
  inSnapshot(stores, store, async ({ client, journal, mark }) => {
    const fresh = await freshParts(
      journal,
      asked.map(({ tag }) => tag.id),
      mark,
    );
    const moved = asked.flatMap(({ tag, window }) => {
      const current = fresh.stores.get(tag.id) ?? store;
      return current === store ? [] : [{ tag: { id: tag.id, storeId: current }, window }];
    });
    const gone = new Set(moved.map(({ tag }) => tag.id));
    const here = asked.filter(({ tag }) => !gone.has(tag.id));
    for (let at = 0; at < here.length; at += TAGS_AT_ONCE)
      await takeStanding(client, here.slice(at, at + TAGS_AT_ONCE), fresh, take);
    return moved;
  });

async function takeStanding(
  client: PoolClient,
  asked: readonly StandingAsked[],
  fresh: FreshParts,
  take: (tag: number, frame: Frame) => void,
): Promise<void> {
  const frames = new Map<number, Frame[]>();
  for (const { tag, frame } of await blocksOf(client, asked)) {
    const known = frames.get(tag);
    if (known) known.push(decodeFrame(frame));
    else frames.set(tag, [decodeFrame(frame)]);
  }
  const turns = new Turns(SAMPLES_A_TURN);
  for (const { tag, window } of asked) {
    const all = [...(frames.get(tag.id) ?? []), ...(fresh.frames.get(tag.id) ?? [])];
    if (all.length === 0) continue;
    const { frame } = mergeFrames(all);
    const { times } = frame;
    const standing = sliceFrame(frame, firstAtOrAfter(times, window.from), firstAtOrAfter(times, window.to));
    if (standing.times.length > 0) take(tag.id, standing);
    await turns.after(times.length);
  }
}

/** The blocks that touch each tag's window. */
async function blocksOf(
  client: PoolClient,
  asked: readonly StandingAsked[],
): Promise<{ readonly tag: number; readonly frame: Buffer }[]> {
  const ids = asked.map(({ tag }) => tag.id);
  const tables = new TagTables(client, ids);
  const from = Math.min(...asked.map(({ window }) => window.from));
  const to = Math.max(...asked.map(({ window }) => window.to));
  const found: { tag: number; frame: Buffer }[] = [];
  for (const stretch of await tables.stretches(from, to)) {
    const rows = await tables.ask<{ tag: number; frame: Buffer }>(
      stretch.tables,
      (
        table,
      ) => `SELECT b.tag_id AS tag, b.frame FROM unnest($1::int[], $2::bigint[], $3::bigint[]) AS w(tag, since, till)
        JOIN ${table} b ON b.tag_id = w.tag AND b.first_time >= $4 AND b.first_time < least(w.till, $5::bigint) AND b.last_time >= w.since`,
      [ids, asked.map(({ window }) => window.from), asked.map(({ window }) => window.to), stretch.from, stretch.to],
    );
    found.push(...rows);
  }
  return found;
}
