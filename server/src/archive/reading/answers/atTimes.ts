/** Values at given times: raw where there is one, else interpolated or held. */
import { AggregatePass, NO_PARTS, describeStatus, textBook, type Bound } from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Row } from '../formats/table.ts';
import { outputValue } from '../../values/output.ts';
import type { ReadTag } from '../readTag.ts';
import type { AtTimesRequest, Asker } from '../requests.ts';
import { TAG_COLUMN, resultColumns } from './columns.ts';
import { piecesOf } from './pieces.ts';

/** A row for each tag and time asked for, interpolated or held as the tag is. */
export function atTimesAnswer(stores: Stores, request: AtTimesRequest, asker: Asker): Answer {
  const { named } = request;
  return {
    tables: request.tags.map((tag) => ({
      name: named ? 'at' : tag.name,
      columns: named ? [TAG_COLUMN, ...resultColumns(request.tags)] : resultColumns([tag]),
      batches: valuesOf(stores, request, tag, named, asker),
    })),
    list: 'samples',
    head: request.echo,
    foot: () => ({}),
  };
}

/**
 * The interpolated bound at each time (OPC 10000-13). The times are the edges of intervals for which nothing is asked:
 * blocks between two of them stay closed.
 */
async function* valuesOf(
  stores: Stores,
  request: AtTimesRequest,
  tag: ReadTag,
  named: boolean,
  asker: Asker,
): AsyncGenerator<Row[]> {
  const sorted = Float64Array.from(new Set(request.times)).sort();
  // One more edge, so that the last time has an interval that begins there.
  const edges = Float64Array.of(...sorted, sorted[sorted.length - 1]! + 1);
  const found: Bound[] = [];
  const pass = new AggregatePass(edges, false, tag.configuration, NO_PARTS, ({ bounds }, interval) => {
    found[interval] = bounds.interpolated[interval]!;
  });
  const texts = textBook();
  const wholes = new Map<number, bigint>();
  const reader = {
    takesWhole: (first: number, last: number) => pass.takesWhole(first, last),
    parts: NO_PARTS,
    neighbours: true,
    usesUncertain: !tag.configuration.treatUncertainAsBad,
  };
  for await (const piece of piecesOf(stores, tag, edges[0]!, edges[edges.length - 1]!, reader, asker)) {
    if (piece.kind === 'summaries') {
      for (const run of piece.runs) pass.takeSummary(run);
      continue;
    }
    const { frame } = piece;
    frame.wholes?.forEach((whole, i) => wholes.set(frame.times[i]!, whole));
    pass.take(texts.recode(frame));
  }
  pass.finish(tag.watchedUntil);
  yield request.times.map((time) => {
    const { value, status, sampleTime = NaN } = found[sorted.indexOf(time)]!;
    const shown = outputValue(tag, value, texts.textOf(value), status, wholes.get(sampleTime) ?? null);
    const row = [time, shown, status, describeStatus(status)];
    return named ? [tag.name, ...row] : row;
  });
}
