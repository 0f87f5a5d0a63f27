/** Computations of the trade: counters, integrals, rates of change, state times, time on. */
import {
  CounterPass,
  SECOND,
  StatePass,
  Status,
  describeLength,
  describeStatus,
  edgesOf,
  isBad,
  type AggregateName,
  type StateTimes,
} from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Cell, Column, Row } from '../formats/table.ts';
import { outputValue } from '../../values/output.ts';
import type { ReadTag } from '../readTag.ts';
import type { ComputedRequest, Asker } from '../requests.ts';
import { EVERY_SAMPLE, type Piece } from '../tagLedger.ts';
import { valueColumn } from './columns.ts';
import { piecesOf } from './pieces.ts';
import { aggregateTag } from './processed.ts';

/** One interval's figure, and what else there is to say of it. */
interface Figure {
  readonly value: Cell;
  readonly quality: string;
  readonly note: string | null;
  /** Of states and time on. */
  readonly durations?: StateTimes;
}

const COLUMNS: readonly Column[] = [
  { name: 'from', kind: 'time' },
  { name: 'to', kind: 'time' },
  valueColumn('value', ['real']),
  { name: 'quality', kind: 'text' },
  { name: 'note', kind: 'text' },
];

/** Microseconds in milliseconds, as every duration of an answer. */
const milliseconds = (micros: number): number => micros / 1000;

const STATE_COLUMNS: readonly Column[] = [
  { name: 'goodMilliseconds', kind: 'number' },
  { name: 'uncertainMilliseconds', kind: 'number' },
  { name: 'unknownMilliseconds', kind: 'number' },
  { name: 'states', kind: 'json' },
];

/** Counters, integrals, rates and state times: rows of intervals, each with its status. */
export function computedAnswer(stores: Stores, request: ComputedRequest, asker: Asker): Answer {
  const [tag] = request.tags;
  const withStates = request.computation === 'states' || request.computation === 'onTime';
  async function* batches(): AsyncGenerator<Row[]> {
    const figures = await compute(stores, tag!, request, asker);
    yield request.buckets.map(({ begin, finish }, i) => {
      const { value, quality, note, durations } = figures[i]!;
      const row: Cell[] = [begin, finish, value, quality, note];
      if (durations) row.push(...durationCells(tag!, durations));
      return row;
    });
  }
  const columns = withStates ? [...COLUMNS, ...STATE_COLUMNS] : COLUMNS;
  return {
    tables: [{ name: tag!.name, columns, batches: batches() }],
    list: 'rows',
    head: request.echo,
    foot: () => ({}),
  };
}

function durationCells(tag: ReadTag, { good, uncertain, unknown, states }: StateTimes): Cell[] {
  const inOrder = [...states].sort(([a], [b]) => a - b);
  const spans = inOrder.map(([state, span]) => ({
    state: String(outputValue(tag, state, null, Status.Good)),
    milliseconds: milliseconds(span.time),
    uncertainMilliseconds: milliseconds(span.uncertain),
    starts: span.starts,
  }));
  return [milliseconds(good), milliseconds(uncertain), milliseconds(unknown), JSON.stringify(spans)];
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
  // The time without a usable value, of which the figure has to give an account.
  const { results } = await aggregateTag(stores, tag, { buckets, aggregates: [name, 'DurationBad'] }, asker);
  const { values, status } = results[0]!;
  const bad = results[1]!.values;
  const how = name === 'Total' ? 'bridged along the line between the values around it' : 'left out';
  return buckets.map(({ begin, finish }, i) => {
    const silent = name !== 'DeltaBounds' && bad[i]! > 0 && !isBad(status[i]!);
    const note = silent ? `${describeLength(bad[i]! * 1000)} without a usable value: ${how}` : null;
    const over = name === 'DeltaBounds' ? (finish - begin) / SECOND : 1;
    return {
      value: isBad(status[i]!) ? null : (values[i]! * factor) / over,
      quality: describeStatus(status[i]!),
      note,
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
  { buckets, counter }: ComputedRequest,
  asker: Asker,
): Promise<Figure[]> {
  const { times: edges } = edgesOf(buckets);
  const pass = new CounterPass(edges, counter);
  await feed(stores, tag, edges, (frame) => pass.take(frame, frame.wholes ?? null), asker);
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
  return pass.finish(tag.watchedUntil).map((durations) => {
    const { good, uncertain, unknown, onPercent } = durations;
    const known = good + uncertain;
    const quality =
      known === 0 ? Status.BadNoData : uncertain + unknown > 0 ? Status.UncertainDataSubNormal : Status.Good;
    const value = computation === 'onTime' ? (Number.isNaN(onPercent) ? null : onPercent) : milliseconds(known);
    return { value, quality: describeStatus(quality), note: null, durations };
  });
}
