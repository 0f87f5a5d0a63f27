/** Computations of the trade: counters, integrals, rates of change, state times, time on. */
import { CounterPass, SECOND, StatePass, describeStatus, edgesOf, isBad, type AggregateName } from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Cell, Column, Row } from '../formats/table.ts';
import { outputValue } from '../../values/output.ts';
import type { ComputedRequest, ReadTag, Asker } from '../requests.ts';
import { EVERY_SAMPLE, type Piece } from '../tagLedger.ts';
import { piecesOf } from './pieces.ts';
import { aggregateTag } from './processed.ts';

/** One interval's figure. */
interface Figure {
  readonly value: Cell;
  readonly quality: string;
  readonly note: string | null;
}

const COLUMNS: readonly Column[] = [
  { name: 'from', kind: 'time' },
  { name: 'to', kind: 'time' },
  { name: 'value', kind: 'value' },
  { name: 'quality', kind: 'text' },
  { name: 'note', kind: 'text' },
];

export function computedAnswer(stores: Stores, request: ComputedRequest, asker: Asker): Answer {
  const [tag] = request.tags;
  async function* batches(): AsyncGenerator<Row[]> {
    const figures = await compute(stores, tag!, request, asker);
    yield request.buckets.map(({ begin, finish }, i) => {
      const { value, quality, note } = figures[i]!;
      return [begin, finish, value, quality, note];
    });
  }
  return {
    tables: [{ name: tag!.name, columns: COLUMNS, batches: batches() }],
    list: 'rows',
    head: request.echo,
    foot: () => ({}),
  };
}

async function compute(
  stores: Stores,
  tag: ReadTag,
  request: ComputedRequest,
  asker: Asker,
): Promise<readonly Figure[]> {
  switch (request.computation) {
    case 'counter':
      return counterFigures(stores, tag, request, asker);
    case 'states':
    case 'onTime':
      return stateFigures(stores, tag, request, asker);
    case 'integral':
      // Held values add up as they are held, sloped ones along their slope; Bad time is bridged or left out accordingly.
      return scaled(stores, tag, request, tag.configuration.stepped ? 'Total2' : 'Total', asker);
    case 'rate':
      return scaled(stores, tag, request, 'DeltaBounds', asker);
  }
}

/** An aggregate times the factor; a difference over the interval's length. */
async function scaled(
  stores: Stores,
  tag: ReadTag,
  { buckets, factor }: ComputedRequest,
  name: AggregateName,
  asker: Asker,
): Promise<Figure[]> {
  const { results } = await aggregateTag(stores, tag, { buckets, aggregates: [name] }, asker);
  const { values, status } = results[0]!;
  return buckets.map(({ begin, finish }, i) => {
    const over = name === 'DeltaBounds' ? (finish - begin) / SECOND : 1;
    return {
      value: isBad(status[i]!) ? null : (values[i]! * factor) / over,
      quality: describeStatus(status[i]!),
      note: null,
    };
  });
}

async function feed(
  stores: Stores,
  tag: ReadTag,
  edges: Float64Array,
  take: (frame: Extract<Piece, { kind: 'samples' }>['frame']) => void,
  asker: Asker,
): Promise<void> {
  const reader = { ...EVERY_SAMPLE, neighbours: true, usesUncertain: false };
  for await (const piece of piecesOf(stores, tag, edges[0]!, edges[edges.length - 1]!, reader, asker)) {
    if (piece.kind === 'samples') take(piece.frame);
  }
}

async function counterFigures(
  stores: Stores,
  tag: ReadTag,
  { buckets, rollOver }: ComputedRequest,
  asker: Asker,
): Promise<Figure[]> {
  const { times: edges } = edgesOf(buckets);
  const pass = new CounterPass(edges, rollOver);
  await feed(stores, tag, edges, (frame) => pass.take(frame), asker);
  return pass.finish().map(({ value, status, wraps, resets }) => {
    const notes = [
      ...(wraps > 0 ? [`rolled over ${wraps === 1 ? 'once' : `${wraps} times`}`] : []),
      ...(resets > 0
        ? [`was reset ${resets === 1 ? 'once' : `${resets} times`}: what it lost is not in the total`]
        : []),
    ];
    return {
      value: Number.isNaN(value) ? null : value,
      quality: describeStatus(status),
      note: notes.length > 0 ? notes.join('; ') : null,
    };
  });
}

async function stateFigures(
  stores: Stores,
  tag: ReadTag,
  { buckets, computation }: ComputedRequest,
  asker: Asker,
): Promise<Figure[]> {
  const { times: edges } = edgesOf(buckets);
  const pass = new StatePass(edges);
  await feed(stores, tag, edges, (frame) => pass.take(frame), asker);
  return pass.finish(tag.watchedUntil).map(({ states, known, onPercent }, i) => {
    const length = edges[i + 1]! - edges[i]!;
    const quality = known === 0 ? 'Bad_NoData' : known === length ? 'Good' : 'Uncertain_DataSubNormal';
    const inOrder = [...states].sort(([a], [b]) => a - b);
    const spans = inOrder.map(([value, { time, starts }]) => {
      const name = String(outputValue(tag, value, null));
      return `${name}: ${time / 1000} ms, ${starts} ${starts === 1 ? 'start' : 'starts'}`;
    });
    const value = computation === 'onTime' ? (Number.isNaN(onPercent) ? null : onPercent) : known / 1000;
    return { value, quality, note: spans.length > 0 ? spans.join('; ') : null };
  });
}
