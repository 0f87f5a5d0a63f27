/** The journal as a link carries it: the next stretch of entries, with what of them is carried. */
import type { CarriedEntry, CarriedStretch } from '@wide-ledger/contract';
import { decodeFrame, originName, selectSamples, type Frame, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { Turns } from '../../ground/index.ts';
import type { CarriedNumbers } from './carriedTags.ts';
import type { CarriedPart, Stretch } from './far/farEnd.ts';

const STRETCH_ENTRIES = 2_000;
/** Characters: what is longer would hold up the link for ever. */
const LONGEST_WRITER = 200;
const LONGEST_REASON = 1_000;
/** Samples that are taken apart before others have their turn. */
const SAMPLES_A_TURN = 20_000;

interface Row {
  readonly id: number;
  readonly writer: string;
  readonly origin: number;
  readonly received: string;
  readonly reason: string | null;
  readonly via: string[] | null;
  /** Null where nothing of it is carried. */
  readonly frame: Buffer | null;
}

const PRINT = "id || ' ' || (extract(epoch FROM received_at) * 1000000)::bigint";

/** By what an entry is known again; null where the journal does not hold it any more. */
export async function printOf(home: Pool, entry: number): Promise<string | null> {
  const { rows } = await home.query<{ print: string }>(`SELECT ${PRINT} AS print FROM journal_entry WHERE id = $1`, [
    entry,
  ]);
  return rows[0]?.print ?? null;
}

/** Up to where the journal is complete: what is committed by now is seen by the statements that follow. */
export async function frontierOf(home: Pool): Promise<number> {
  const { rows } = await home.query<{ frontier: number }>('SELECT journal_frontier() AS frontier');
  return rows[0]!.frontier;
}

/** Which entries are wanted. */
export interface StretchAsked extends Pick<CarriedStretch, 'epoch' | 'after'> {
  /** The number behind which they lie. */
  readonly from: number;
  /** Up to which the journal is complete. */
  readonly frontier: number;
  readonly numbers: CarriedNumbers;
  /** The identity of the site that they go to, if it is one: what came from there, or through it, is not carried back. */
  readonly far: string;
  /** About how many samples there are to be in it. */
  readonly size: number;
}

/** A stretch, and of which tags that are summarised it brings something: between which times. */
export interface FoundStretch extends Stretch {
  readonly touched: ReadonlyMap<number, Span>;
}

/** The entries behind a position. @returns null where nothing is there. */
export async function nextStretch(
  home: Pool,
  { epoch, after, from, frontier, numbers, far, size }: StretchAsked,
): Promise<FoundStretch | null> {
  if (frontier <= from) return null;
  const { detail, summaries } = numbers;
  const { rows } = await home.query<Row>({
    name: 'next_stretch',
    text: `SELECT id, writer, origin, ${PRINT} AS received, reason, via, CASE WHEN carried THEN frame END AS frame
      FROM (SELECT *, sum(CASE WHEN carried THEN samples ELSE 0 END) OVER (ORDER BY id)
                      - CASE WHEN carried THEN samples ELSE 0 END AS before
            FROM (SELECT *, frame IS NOT NULL AND tags && $2::int[] AND NOT coalesce($3 = ANY(via), false) AS carried
                  FROM journal_entry WHERE id > $1 AND id <= $4 ORDER BY id LIMIT ${STRETCH_ENTRIES}) AS next) AS counted
      WHERE before < $5 ORDER BY id`,
    values: [from, [...new Set([...detail.keys(), ...summaries.keys()])], far, frontier, size],
  });
  const last = rows.at(-1);
  if (!last) return null;
  const entries: CarriedPart[] = [];
  const touched = new Map<number, Span>();
  const turns = new Turns(SAMPLES_A_TURN);
  let samples = 0;
  for (const row of rows) {
    if (row.frame === null) continue;
    const whole = decodeFrame(row.frame);
    if (summaries.size > 0) noteTouched(whole, summaries, touched);
    const frame = carried(whole, detail);
    await turns.after(whole.times.length);
    if (!frame) continue;
    entries.push({ description: describe(row), frame });
    samples += frame.times.length;
  }
  const head: CarriedStretch = { epoch, after, position: last.id, print: last.received };
  return { head, entries, samples, touched };
}

/** Widens what is known of tags that are summarised by the times of a frame. */
function noteTouched({ tags, times }: Frame, summaries: CarriedNumbers['summaries'], touched: Map<number, Span>): void {
  for (let i = 0; i < times.length; i++) {
    const [tag, time] = [tags![i]!, times[i]!];
    if (!summaries.has(tag)) continue;
    const known = touched.get(tag);
    // Nearly every sample leaves here.
    if (known && time >= known.from && time <= known.to) continue;
    touched.set(tag, { from: Math.min(known?.from ?? time, time), to: Math.max(known?.to ?? time, time) });
  }
}

/** An entry as it was first recorded; how it got here is for whoever takes it to add. */
const describe = ({ writer, origin, reason, via }: Row): CarriedEntry => ({
  writer: writer.slice(0, LONGEST_WRITER),
  origin: originName(origin),
  reason: reason?.slice(0, LONGEST_REASON) ?? null,
  via: via ?? [],
});

/** What of a frame is carried, by the link's numbers; null for nothing. */
function carried(frame: Frame, numbers: ReadonlyMap<number, number>): Frame | null {
  const mine = selectSamples(frame, (i) => numbers.has(frame.tags![i]!));
  return mine.times.length === 0 ? null : { ...mine, tags: mine.tags!.map((tag) => numbers.get(tag)!) };
}
