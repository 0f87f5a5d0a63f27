/** Raw values as they were archived. */
import { describeStatus, firstAtOrAfter, originName, type Frame } from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Column, Row } from '../formats/table.ts';
import { valueAt } from '../present.ts';
import type { RawRequest, ReadTag, Waiting } from '../requests.ts';
import { SAMPLE_COLUMNS, TAG_COLUMN } from './columns.ts';
import { EVERY_SAMPLE } from '../tagLedger.ts';
import { piecesOf } from './pieces.ts';

export function rawAnswer(stores: Stores, request: RawRequest, waiting: Waiting): Answer {
  const alone = request.tags.length === 1;
  const named = !alone && request.layout === 'table';
  const columns: readonly Column[] = named ? [TAG_COLUMN, ...SAMPLE_COLUMNS] : SAMPLE_COLUMNS;
  const foot: { next?: string } = {};
  return {
    tables: request.tags.map((tag) => ({
      name: named ? 'history' : tag.name,
      columns,
      batches: samplesOf(stores, request, tag, named, foot, waiting),
    })),
    list: 'samples',
    head: request.echo,
    foot: () => foot,
  };
}

async function* samplesOf(
  stores: Stores,
  { from, to, bounds, limit }: RawRequest,
  tag: ReadTag,
  named: boolean,
  foot: { next?: string },
  waiting: Waiting,
): AsyncGenerator<Row[]> {
  const rowOf = (frame: Frame, i: number): Row => {
    const status = frame.status[i]!;
    const origin = originName(frame.origins![i]!);
    const sample = [frame.times[i]!, valueAt(tag, frame, i), status, describeStatus(status), origin];
    return named ? [tag.name, ...sample] : sample;
  };
  /** The sample before the window, until it is known whether one lies on the window's start. */
  let before: Row | null = null;
  let begun = false;
  let left = limit ?? Infinity;
  const reader = { ...EVERY_SAMPLE, neighbours: bounds, usesUncertain: true };
  for await (const piece of piecesOf(stores, tag, from, to, reader, waiting)) {
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
