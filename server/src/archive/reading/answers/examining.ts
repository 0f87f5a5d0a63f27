/** Examining what the data themselves betray: of tags that lie together how they move, of the journal in which order it came. */
import {
  ArrivalBook,
  DOUBT_CELLS,
  DriftBook,
  FEWEST_VALUES,
  MotionBook,
  RangeBook,
  ReadingBook,
  boundsOf,
  decodeFrame,
  doubledAt,
  isBad,
  originCode,
  stuckIn,
  type Doubt,
  type Neighbour,
  type Rhythm,
  type Span,
} from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type {
  ArrivalRequest,
  ExaminedTag,
  ExaminingLine,
  ExaminingRequest,
  FoundDoubt,
  MotionRequest,
} from '../examining.ts';
import { AskerLeft, type Asker } from '../requests.ts';
import { EVERY_SAMPLE, type TagLedger } from '../tagLedger.ts';
import { askLedger } from './pieces.ts';

const READER = { ...EVERY_SAMPLE, neighbours: true, usesUncertain: true };
/** Old values of one tag that are looked at. */
const MOST_DOUBLED = 100_000;

/** @returns lines of JSON, each an ExaminingLine. */
export async function* examiningAnswer(
  stores: Stores,
  request: ExaminingRequest,
  asker: Asker,
): AsyncGenerator<string> {
  const lines = request.kind === 'motion' ? motions(stores, request, asker) : arrivals(stores, request, asker);
  for await (const line of lines) yield JSON.stringify(line);
}

const cellOf = ({ from, to }: Span): number => (to - from) / DOUBT_CELLS;

async function* motions(stores: Stores, { tags, window }: MotionRequest, asker: Asker): AsyncGenerator<ExaminingLine> {
  const group: Neighbour[] = [];
  const found: FoundDoubt[] = [];
  const total = tags.length;
  const tell = (tag: number, doubts: readonly Doubt[]): void => {
    for (const doubt of doubts) found.push({ tag, source: null, doubt });
  };
  for (const [done, tag] of tags.entries()) {
    yield { done, total };
    const seen = await askLedger(stores, tag, (ledger) => lookAt(ledger, tag, window, asker));
    if (tag.moves) group.push(seen.neighbour);
    if (!tag.beside) tell(tag.id, seen.doubts);
  }
  const beside = new Set(tags.filter((tag) => tag.beside).map(({ id }) => id));
  for (const [tag, doubts] of stuckIn(group, window)) if (!beside.has(tag)) tell(tag, doubts);
  yield { done: total, total, found };
}

async function lookAt(
  ledger: TagLedger,
  tag: ExaminedTag,
  window: Span,
  asker: Asker,
): Promise<{ neighbour: Neighbour; doubts: Doubt[] }> {
  const motion = new MotionBook(window, DOUBT_CELLS, tag.holds);
  const range = new RangeBook(boundsOf(tag), window, cellOf(window));
  const reading = tag.intervalMilliseconds === null ? null : new ReadingBook(window, tag.intervalMilliseconds);
  const corrected = new Set<number>();
  for await (const piece of ledger.pieces(window.from, window.to, READER)) {
    if (asker.gone) throw new AskerLeft();
    if (piece.kind !== 'samples') continue;
    piece.frame.origins?.forEach((origin, i) => {
      if (origin === originCode('corrected')) corrected.add(piece.frame.times[i]!);
    });
    if (piece.frame.texts.length > 0) continue;
    motion.take(piece.frame);
    if (tag.beside) continue;
    range.take(piece.frame);
    reading?.take(piece.frame);
  }
  const seen = motion.finish(tag.watchedUntil);
  const before = tag.moves && seen.total < FEWEST_VALUES ? await rhythmBefore(ledger, tag, window) : null;
  const neighbour = { tag: tag.id, counts: tag.counts, motion: seen, before };
  if (tag.beside) return { neighbour, doubts: [] };
  const rows = await ledger.rows<{ time: number }>(
    // A mark that nothing was known is no value, and who takes a value away gives a reason.
    `SELECT time FROM modified_sample WHERE tag_id = $1 AND time >= $2 AND time < $3
       AND reason IS NULL AND status < 2147483648 ORDER BY time LIMIT ${MOST_DOUBLED}`,
    [tag.id, window.from, window.to],
  );
  const doubled = doubledAt(
    rows.map(({ time }) => time).filter((time) => !corrected.has(time)),
    cellOf(window),
  );
  const readBadly = reading?.finish() ?? null;
  return { neighbour, doubts: [...range.finish(), ...doubled, ...(readBadly ? [readBadly] : [])] };
}

/** How a tag moved in as much time before the window. */
async function rhythmBefore(ledger: TagLedger, { holds }: ExaminedTag, { from, to }: Span): Promise<Rhythm | null> {
  const before = new MotionBook({ from: 2 * from - to, to: from }, 1, holds);
  for await (const piece of ledger.pieces(2 * from - to, from, { ...READER, neighbours: false }))
    if (piece.kind === 'samples') before.take(piece.frame);
  return before.finish(from).rhythm;
}

/** Entries that are read at once. */
const ENTRIES_AT_ONCE = 100;

interface ArrivedEntry {
  readonly id: number;
  readonly writer: string;
  readonly origin: number;
  readonly received: number;
  readonly frame: Buffer;
}

async function* arrivals(
  { home }: Stores,
  { tags, window }: ArrivalRequest,
  asker: Asker,
): AsyncGenerator<ExaminingLine> {
  const { rows: ends } = await home.query<{ first: number | null; last: number | null; since: number | null }>(
    // Entries are numbered as they come, and days go one by one: the first that is there says since when all are.
    `SELECT min(id) AS first, max(id) AS last, (extract(epoch FROM min(received_at)) * 1000000)::bigint AS since
     FROM journal_entry WHERE received_at >= $1 AND received_at < $2`,
    [new Date(window.from / 1000), new Date(window.to / 1000)],
  );
  const { first, last, since } = ends[0]!;
  const sources = new Map(tags.map(({ tag, source }) => [tag, source]));
  const book = new ArrivalBook(cellOf(window));
  const drifts = new Map<number, DriftBook>();
  const total = first === null ? 0 : last! - first + 1;
  for (let next = first ?? 0; first !== null && next <= last!;) {
    if (asker.gone) throw new AskerLeft();
    yield { done: next - first, total };
    const { rows } = await home.query<ArrivedEntry>(
      `SELECT id, writer, origin, (extract(epoch FROM received_at) * 1000000)::bigint AS received, frame FROM journal_entry
       WHERE id >= $1 AND id <= $2 AND origin = ANY($3) AND frame IS NOT NULL ORDER BY id LIMIT ${ENTRIES_AT_ONCE}`,
      [next, last, [originCode('live'), originCode('buffered')]],
    );
    for (const entry of rows) {
      const { times, by } = examined(entry, sources);
      book.take(entry.writer, by, times, entry.received);
      if (entry.origin === originCode('live')) noteLateness(drifts, window, { times, by }, sources, entry.received);
    }
    next = rows.length < ENTRIES_AT_ONCE ? last! + 1 : rows.at(-1)!.id + 1;
  }
  const found: FoundDoubt[] = [];
  for (const [tag, doubts] of book.finish()) for (const doubt of doubts) found.push({ tag, source: null, doubt });
  for (const [source, drift] of drifts) {
    const doubt = drift.finish();
    if (doubt) found.push({ tag: null, source, doubt });
  }
  yield { done: total, total, found, since };
}

interface Arrived {
  readonly times: Float64Array;
  /** Whose they are. */
  readonly by: Uint32Array;
}

/** Of an entry what is a value of the tags that are examined. A mark that nothing is known is stamped when it was noticed. */
function examined({ frame: bytes }: ArrivedEntry, sources: ReadonlyMap<number, number | null>): Arrived {
  const { tags, times, status } = decodeFrame(bytes);
  const kept = [...times.keys()].filter((i) => !isBad(status[i]!) && sources.has(tags![i]!));
  return { times: Float64Array.from(kept, (i) => times[i]!), by: Uint32Array.from(kept, (i) => tags![i]!) };
}

/** Of each source the newest stamp counts: what came with it was read before. */
function noteLateness(
  drifts: Map<number, DriftBook>,
  window: Span,
  { times, by }: Arrived,
  sources: ReadonlyMap<number, number | null>,
  received: number,
): void {
  const newest = new Map<number, number>();
  for (let i = 0; i < times.length; i++) {
    const source = sources.get(by[i]!) ?? null;
    if (source !== null) newest.set(source, Math.max(newest.get(source) ?? -Infinity, times[i]!));
  }
  for (const [source, stamp] of newest) {
    const book = drifts.get(source) ?? new DriftBook(window);
    drifts.set(source, book);
    book.take(stamp, received);
  }
}
