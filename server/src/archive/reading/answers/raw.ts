/** Raw values as they were archived. */
import { describeStatus, firstAtOrAfter, originName, type Frame } from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Row } from '../formats/table.ts';
import { valueAt } from '../../values/output.ts';
import type { ReadTag } from '../readTag.ts';
import { AskerLeft, type RawRequest, type Asker } from '../requests.ts';
import { TAG_COLUMN, sampleColumns } from './columns.ts';
import { EVERY_SAMPLE } from '../tagLedger.ts';
import { askLedger, piecesOf } from './pieces.ts';

/** Raw samples of a window, with the mark for the next page where there are more. */
export function rawAnswer(stores: Stores, request: RawRequest, asker: Asker): Answer {
  const { named } = request;
  const foot: { next?: string } = {};
  return {
    tables: request.tags.map((tag) => ({
      name: named ? 'history' : tag.name,
      columns: named ? [TAG_COLUMN, ...sampleColumns(request.tags)] : sampleColumns([tag]),
      batches: (request.newestFirst ? newestOf : samplesOf)({ stores, request, tag, named, foot, asker }),
    })),
    list: 'samples',
    head: request.echo,
    foot: () => foot,
  };
}

/** One tag's share of a request. */
interface TagReading {
  readonly stores: Stores;
  readonly request: RawRequest;
  readonly tag: ReadTag;
  /** Whether rows begin with the tag's name. */
  readonly named: boolean;
  /** Takes the cursor of the next page. */
  readonly foot: { next?: string };
  readonly asker: Asker;
}

/** A sample as a row. @param named whether it begins with the tag's name. */
const rowWriter =
  (tag: ReadTag, named: boolean) =>
  (frame: Frame, i: number): Row => {
    const status = frame.status[i]!;
    const origin = originName(frame.origins![i]!);
    const sample = [frame.times[i]!, valueAt(tag, frame, i), status, describeStatus(status), origin];
    return named ? [tag.name, ...sample] : sample;
  };

/** The last samples of the window, newest first. The next page ends before the oldest of them. */
async function* newestOf({ stores, request, tag, named, foot, asker }: TagReading): AsyncGenerator<Row[]> {
  const { from, to, limit } = request;
  const rowOf = rowWriter(tag, named);
  const most = limit ?? Infinity;
  const [begin, found] = await askLedger(stores, tag, async (ledger) => {
    const start = await ledger.startOfLast(most, from, to);
    const frames: Frame[] = [];
    for await (const piece of ledger.pieces(start, to, { ...EVERY_SAMPLE, neighbours: false, usesUncertain: true })) {
      if (asker.gone) throw new AskerLeft();
      if (piece.kind === 'samples') frames.push(piece.frame);
    }
    return [start, frames];
  });
  const rows: Row[] = [];
  let oldest = to;
  let more = begin > from;
  for (const frame of found.reverse()) {
    const first = firstAtOrAfter(frame.times, from);
    for (let i = firstAtOrAfter(frame.times, to) - 1; i >= first; i--) {
      if (rows.length === most) {
        more = true;
        break;
      }
      rows.push(rowOf(frame, i));
      oldest = frame.times[i]!;
    }
  }
  if (more && rows.length > 0) foot.next = String(oldest);
  yield rows;
}

async function* samplesOf({ stores, request, tag, named, foot, asker }: TagReading): AsyncGenerator<Row[]> {
  const { from, to, bounds, limit } = request;
  const rowOf = rowWriter(tag, named);
  /** The sample before the window, until it is known whether one lies on the window's start. */
  let before: Row | null = null;
  let begun = false;
  let left = limit ?? Infinity;
  const reader = { ...EVERY_SAMPLE, neighbours: bounds, usesUncertain: true };
  for await (const piece of piecesOf(stores, tag, from, to, reader, asker)) {
    if (piece.kind !== 'samples') continue;
    const { frame } = piece;
    const first = firstAtOrAfter(frame.times, from);
    const end = firstAtOrAfter(frame.times, to);
    const rows: Row[] = [];
    if (bounds && !begun) {
      if (first > 0) before = rowOf(frame, first - 1);
      begun = first < frame.times.length;
      if (begun && before && frame.times[first] !== from) rows.push(before);
    }
    const last = Math.min(end, first + left);
    for (let i = first; i < last; i++) rows.push(rowOf(frame, i));
    left -= Math.max(0, last - first);
    if (last < end) foot.next = String(frame.times[last]);
    else if (bounds && end < frame.times.length) rows.push(rowOf(frame, end));
    if (rows.length > 0) yield rows;
    if (last < end || end < frame.times.length) return;
  }
  if (bounds && !begun && before) yield [before];
}
