/** The journal as a link carries it: the next stretch of entries, with what of them is carried. */
import type { CarriedEntry, CarriedStretch } from '@wide-ledger/contract';
import { decodeFrame, originName, packBundle, packEntry, selectSamples, type Frame } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { Turns } from '../../ground/index.ts';

/** Samples of one stretch: enough to amortise a request, few enough to be sent again. */
const STRETCH_SAMPLES = 100_000;
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

/** A stretch ready to be sent. */
export interface Stretch {
  readonly bundle: Uint8Array;
  readonly position: number;
  readonly samples: number;
}

const PRINT = "id || ' ' || (extract(epoch FROM received_at) * 1000000)::bigint";

/** By what an entry is known again; null where the journal does not hold it any more. */
export async function printOf(home: Pool, entry: number): Promise<string | null> {
  const { rows } = await home.query<{ print: string }>(`SELECT ${PRINT} AS print FROM journal_entry WHERE id = $1`, [
    entry,
  ]);
  return rows[0]?.print ?? null;
}

/**
 * The entries behind a position, as far as the journal is complete.
 * @param numbers the link's numbers of the tags that it carries.
 * @param far the site that they go to: what came from there, or through it, is not carried back.
 * @returns null where nothing is there.
 */
export async function nextStretch(
  home: Pool,
  { epoch, after }: Pick<CarriedStretch, 'epoch' | 'after'>,
  from: number,
  numbers: ReadonlyMap<number, number>,
  far: string,
): Promise<Stretch | null> {
  // A statement of its own: what is committed by now is seen by the next one.
  const { rows: known } = await home.query<{ frontier: number }>('SELECT journal_frontier() AS frontier');
  const { frontier } = known[0]!;
  if (frontier <= from) return null;
  const { rows } = await home.query<Row>({
    name: 'next_stretch',
    text: `SELECT id, writer, origin, ${PRINT} AS received, reason, via, CASE WHEN carried THEN frame END AS frame
      FROM (SELECT *, sum(CASE WHEN carried THEN samples ELSE 0 END) OVER (ORDER BY id)
                      - CASE WHEN carried THEN samples ELSE 0 END AS before
            FROM (SELECT *, frame IS NOT NULL AND tags && $2::int[] AND NOT coalesce($3 = ANY(via), false) AS carried
                  FROM journal_entry WHERE id > $1 AND id <= $4 ORDER BY id LIMIT ${STRETCH_ENTRIES}) AS next) AS counted
      WHERE before < ${STRETCH_SAMPLES} ORDER BY id`,
    values: [from, [...numbers.keys()], far, frontier],
  });
  const last = rows.at(-1);
  if (!last) return null;
  const entries: Uint8Array[] = [];
  const turns = new Turns(SAMPLES_A_TURN);
  let samples = 0;
  for (const row of rows) {
    const frame = row.frame && carried(decodeFrame(row.frame), numbers);
    if (!frame) continue;
    entries.push(packEntry(describe(row), frame));
    samples += frame.times.length;
    await turns.after(frame.times.length);
  }
  const head: CarriedStretch = { epoch, after, position: last.id, print: last.received };
  return { bundle: packBundle([packEntry(head, null), ...entries]), position: last.id, samples };
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
