/** What this end of a link holds of what it carries: samples as they stand, and summaries as they are computed from them. */
import {
  TallyBook,
  cutIntoCells,
  emptyFrame,
  firstAtOrAfter,
  originCode,
  sliceFrame,
  summaryName,
  tallyText,
  type CarriedSummary,
  type CellTally,
  type Frame,
  type Span,
  type TallyCell,
} from '@wide-ledger/core';
import type { Pool } from 'pg';
import { standingOf, talliesOf, type Archive } from '../../archive/index.ts';
import type { Catalogue, LinkRow, TagRow } from '../../configuration/index.ts';
import { summaryFrame } from './summarising.ts';

const DERIVED = originCode('derived');

/** What is carried of a tag, with the link's number of it. */
export interface Pair {
  readonly number: number;
  readonly tag: TagRow;
  /** Null: every value. */
  readonly summary: CarriedSummary | null;
}

export interface NearEnd {
  readonly home: Pool;
  readonly catalogue: Catalogue;
  readonly archive: Pick<Archive, 'stores' | 'journal' | 'reading' | 'coverage'>;
  readonly link: LinkRow;
  /** Of the site. */
  readonly zone: string;
}

/** What is carried and not refused, by the link's numbers. */
export async function pairsOf({ home, catalogue, link }: NearEnd): Promise<Pair[]> {
  await catalogue.refresh();
  const { rows } = await home.query<{ number: number; tag: number; summary: string }>(
    'SELECT number, tag_id AS tag, summary FROM link_tag WHERE link_id = $1 AND refused IS NULL ORDER BY number',
    [link.id],
  );
  const { detail, summaries } = link.body;
  const known = new Map<string, CarriedSummary | null>(summaries.map((summary) => [summaryName(summary), summary]));
  if (detail) known.set('', null);
  return rows.flatMap(({ number, tag: id, summary: kept }) => {
    const tag = catalogue.tagById(id);
    const summary = known.get(kept);
    return tag && summary !== undefined ? [{ number, tag, summary }] : [];
  });
}

/** What is held of several, cell by cell, by the link's numbers. */
export async function talliesHere(
  near: NearEnd,
  pairs: readonly Pair[],
  window: Span,
  by: TallyCell,
  visitor: string,
): Promise<Map<number, readonly CellTally[]>> {
  const here = new Map<number, readonly CellTally[]>();
  const whole = pairs.filter(({ summary }) => summary === null);
  const tags = whole.map(({ tag }) => tag);
  let next = 0;
  for await (const { cells } of talliesOf(near.archive.reading, tags, window, by, visitor))
    here.set(whole[next++]!.number, cells);
  const cells = cutIntoCells(window, by);
  for (const pair of pairs.filter(({ summary }) => summary !== null)) {
    const book = new TallyBook(cells);
    book.take(await summaryHere(near, pair, window, visitor));
    const held = cells.map(({ from, to }, i): CellTally => [
      from,
      to,
      book.tallies[i]!.count,
      tallyText(book.tallies[i]!),
    ]);
    here.set(
      pair.number,
      held.filter(([, , count]) => count > 0),
    );
  }
  return here;
}

/** What stands within a day. */
export async function samplesHere(near: NearEnd, pair: Pair, day: Span, visitor: string): Promise<Frame> {
  if (pair.summary !== null) return summaryHere(near, pair, day, visitor);
  return (await standingOf(near.archive.stores, pair.tag, day)) ?? emptyFrame(0, { origins: true });
}

/** The figures of a summary whose intervals begin within a window and were over when the far end was last told of some. */
async function summaryHere(near: NearEnd, pair: Pair, window: Span, visitor: string): Promise<Frame> {
  const { home, link, archive, catalogue, zone } = near;
  const { rows } = await home.query<{ until: number | null }>(
    'SELECT summarised_until AS until FROM link_state WHERE link_id = $1',
    [link.id],
  );
  const { tag, number, summary } = pair;
  const wanted = [{ tag, which: 'within', span: window, summaries: [summary!] }] as const;
  const numbers = new Map([[tag.id, [number]]]);
  const over = rows[0]?.until ?? -Infinity;
  const frame = await summaryFrame({ archive, catalogue, zone, visitor }, wanted, numbers, over);
  const { times } = frame;
  const derived = { ...frame, tags: null, origins: new Uint8Array(times.length).fill(DERIVED) };
  return sliceFrame(derived, firstAtOrAfter(times, window.from), firstAtOrAfter(times, window.to));
}
