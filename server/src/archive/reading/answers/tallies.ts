/** What tags hold, cell by cell: whole months as posting keeps them, everything else by looking at the samples. */
import {
  EMPTY_TALLY,
  TallyBook,
  cutIntoCells,
  monthStart,
  nextMonth,
  tallyText,
  union,
  type Span,
  type Tally,
} from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { TalliesLine, TalliesRequest } from '../tallies.ts';
import { AskerLeft, type Asker } from '../requests.ts';
import { inSnapshot } from '../snapshot.ts';
import { EVERY_SAMPLE } from '../tagLedger.ts';
import { askLedger } from './pieces.ts';

const READER = { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true };

/** Tags that are told at a time: each message between threads costs as much as several of them. */
const LINES_AT_ONCE = 250;

/** @returns JSON, each an array of TalliesLine, in the order of the tags. */
export async function* talliesAnswer(
  stores: Stores,
  { tags, window, by }: TalliesRequest,
  asker: Asker,
): AsyncGenerator<string> {
  const cells = cutIntoCells(window, by);
  const kept = by === 'month' ? await keptMonths(stores, tags, window) : new Map<number, Map<number, Tally>>();
  let lines: TalliesLine[] = [];
  for (const tag of tags) {
    if (asker.gone) throw new AskerLeft();
    const known = kept.get(tag.id);
    const found = cells.map(({ from }) => known?.get(from) ?? null);
    const open = cells.filter((_, i) => found[i] === null);
    const counted = open.length > 0 ? await count(stores, tag, open, asker) : [];
    let next = 0;
    const rows = cells.flatMap(({ from, to }, i) => {
      const tally = found[i] ?? counted[next++]!;
      return tally.count === 0 ? [] : [[from, to, tally.count, tallyText(tally)] as const];
    });
    lines.push({ tag: tag.id, cells: rows });
    if (lines.length < LINES_AT_ONCE) continue;
    yield JSON.stringify(lines);
    lines = [];
  }
  if (lines.length > 0) yield JSON.stringify(lines);
}

/** The tallies of cells, by their samples. */
const count = (
  stores: Stores,
  tag: { readonly id: number; readonly store: number },
  cells: readonly Span[],
  asker: Asker,
): Promise<Tally[]> =>
  askLedger(stores, tag, async (ledger) => {
    const book = new TallyBook(cells);
    // Cells that adjoin are read in one go.
    for (const { from, to } of union(cells)) {
      for await (const piece of ledger.pieces(from, to, READER)) {
        if (asker.gone) throw new AskerLeft();
        if (piece.kind === 'samples') book.take(piece.frame);
      }
    }
    return book.tallies;
  });

interface KeptMonth {
  readonly tag: number;
  readonly month: number;
  readonly counted: boolean;
  readonly samples: number;
  readonly lanes: [number, number, number, number];
}

/**
 * The tallies of whole months as they are kept, by tag and by where the month begins, in one snapshot of each store. Those
 * that entries not yet posted touch, or that are not counted yet, are left out; a month that holds nothing is there with
 * nothing.
 */
async function keptMonths(
  stores: Stores,
  tags: TalliesRequest['tags'],
  window: Span,
): Promise<Map<number, Map<number, Tally>>> {
  const whole = cutIntoCells(window, 'month')
    .filter(({ from, to }) => monthStart(from) === from && nextMonth(from) === to)
    .map(({ from }) => from);
  const kept = new Map<number, Map<number, Tally>>();
  if (whole.length === 0) return kept;
  for (const store of new Set(tags.map((tag) => tag.store))) {
    const ids = tags.filter((tag) => tag.store === store).map(({ id }) => id);
    for (const [id, months] of await keptIn(stores, store, ids, whole)) kept.set(id, months);
  }
  return kept;
}

const keptIn = (
  stores: Stores,
  store: number,
  ids: readonly number[],
  whole: readonly number[],
): Promise<Map<number, Map<number, Tally>>> =>
  inSnapshot(stores, store, async ({ client, journal, mark }) => {
    const { rows: fresh } = await journal.query<{ tags: number[]; first: number; last: number }>(
      `SELECT tags, first_time AS first, last_time AS last FROM journal_entry
       WHERE id > $1 AND frame IS NOT NULL AND tags && $2::int[]`,
      [mark, ids],
    );
    // A tag that is on its way to another store is read where it is by then.
    const { rows: here } = await journal.query<{ id: number }>(
      'SELECT id FROM tag WHERE store_id = $2 AND id = ANY($1::int[])',
      [ids, store],
    );
    const { rows } = await client.query<KeptMonth>(
      `SELECT tag_id AS tag, month, counted, samples, ARRAY[tally_1, tally_2, tally_3, tally_4]::float8[] AS lanes
       FROM ledger_month WHERE tag_id = ANY($1::int[]) AND month = ANY($2::bigint[])`,
      [ids, whole],
    );
    const kept = new Map(
      here.map(({ id }) => [id, new Map(whole.map((month): [number, Tally] => [month, EMPTY_TALLY]))] as const),
    );
    for (const { tag, month, counted, samples, lanes } of rows) {
      if (counted) kept.get(tag)?.set(month, { count: samples, lanes });
      else kept.get(tag)?.delete(month);
    }
    for (const { tags, first, last } of fresh)
      for (const month of whole)
        if (month <= last && nextMonth(month) > first) for (const tag of tags) kept.get(tag)?.delete(month);
    return kept;
  });
