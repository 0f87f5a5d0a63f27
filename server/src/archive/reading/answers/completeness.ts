/** Completeness as it is answered: JSON, a table, a workbook, a report to print. */
import type { CompletenessRow, Gap } from '@wide-ledger/contract';
import { SECOND, completePercent, formatInstant, intervalName, sumOf, type Interval } from '@wide-ledger/core';
import { Turns } from '../../../ground/index.ts';
import { gapsIn } from '../../coverage/answers.ts';
import { completenessIn, type CompletenessOf, type CompletenessRequest } from '../../coverage/completeness.ts';
import type { Stores } from '../../stores/stores.ts';
import type { Chunk, Column, Row, Table } from '../formats/table.ts';
import { writeCsv } from '../formats/csv.ts';
import { writeXlsx } from '../formats/xlsx.ts';
import { writeReport } from '../formats/report.ts';
import { presenceOf } from './presence.ts';

export async function* completenessAnswer(stores: Stores, request: CompletenessRequest): AsyncGenerator<Chunk> {
  const rows = await completenessIn(stores.home, request);
  if (request.format === 'json') {
    yield* asJson(request, rows);
    return;
  }
  if (request.format === 'csv') {
    yield* writeCsv({ tables: [longTable(request, rows)], list: 'rows', head: {}, foot: () => ({}) });
    return;
  }
  const { window, place, now, arriving } = request;
  const asked = { kind: 'gaps', window, only: null, among: null, place, recovered: true, now, arriving } as const;
  const { gaps } = await gapsIn(stores.home, asked, (tag, span) => presenceOf(stores, tag, span));
  if (request.format === 'pdf') yield await writeReport(request, cellNames(request), rows, gaps);
  else yield* writeXlsx({ tables: [wideTable(request, rows), gapTable(gaps)], list: '', head: {}, foot: () => ({}) });
}

const ROWS_AT_ONCE = 100;

async function* asJson(
  { window, cells, zone }: CompletenessRequest,
  rows: readonly CompletenessOf[],
): AsyncGenerator<string> {
  const edges = [...cells.map(({ from }) => from), ...cells.slice(-1).map(({ to }) => to)].map(formatInstant);
  const [from, to] = [formatInstant(window.from), formatInstant(window.to)];
  yield `${JSON.stringify({ from, to, zone, edges }).slice(0, -1)},"rows":[`;
  const turns = new Turns(ROWS_AT_ONCE);
  for (let at = 0; at < rows.length; at += ROWS_AT_ONCE) {
    const next = rows.slice(at, at + ROWS_AT_ONCE).map((row) => JSON.stringify(rowOf(row)));
    yield `${at === 0 ? '' : ','}${next.join(',')}`;
    await turns.after(next.length);
  }
  yield ']}';
}

const rowOf = ({ place, tag, tags, cells }: CompletenessOf): CompletenessRow => ({
  place,
  tag,
  tags,
  cells: cells.map((cell) => ({
    dueSeconds: cell.due / SECOND,
    missingSeconds: cell.missing / SECOND,
    explainedSeconds: cell.explained / SECOND,
    percent: completePercent(cell),
  })),
  percent: completePercent(sumOf(cells)),
});

async function* once(rows: readonly Row[]): AsyncGenerator<readonly Row[]> {
  yield await Promise.resolve(rows);
}

/** A line for each row and cell. */
function longTable({ cells }: CompletenessRequest, rows: readonly CompletenessOf[]): Table {
  const columns: Column[] = [
    { name: 'place', kind: 'text' },
    { name: 'tag', kind: 'text' },
    { name: 'from', kind: 'time' },
    { name: 'to', kind: 'time' },
    { name: 'due seconds', kind: 'number' },
    { name: 'missing seconds', kind: 'number' },
    { name: 'explained seconds', kind: 'number' },
    { name: 'complete %', kind: 'number' },
  ];
  const lines = rows.flatMap(({ place, tag, cells: own }) =>
    own.map((cell, i): Row => [
      place,
      tag,
      cells[i]!.from,
      cells[i]!.to,
      cell.due / SECOND,
      cell.missing / SECOND,
      cell.explained / SECOND,
      completePercent(cell),
    ]),
  );
  return { name: 'completeness', columns, batches: once(lines) };
}

/** What cells are called at the head of a column, by the clock of the zone. */
function cellNames({ cells, zone, by }: Pick<CompletenessRequest, 'cells' | 'zone' | 'by'>): string[] {
  const interval: Interval = { kind: 'calendar', unit: by, count: 1 };
  return cells.map(({ from }) => intervalName(from, interval, zone));
}

/** A line for each row, a column for each cell. */
function wideTable(request: CompletenessRequest, rows: readonly CompletenessOf[]): Table {
  const columns: Column[] = [
    { name: 'place', kind: 'text' },
    ...(request.rows === 'tag' ? [{ name: 'tag', kind: 'text' } as const] : []),
    { name: 'tags', kind: 'number' },
    { name: 'due hours', kind: 'number' },
    { name: 'missing hours', kind: 'number' },
    { name: 'explained hours', kind: 'number' },
    { name: 'complete %', kind: 'number' },
    ...cellNames(request).map((name) => ({ name: `${name} %`, kind: 'number' }) as const),
  ];
  const lines = rows.map(({ place, tag, tags, cells }): Row => {
    const all = sumOf(cells);
    return [
      place === '' ? request.site : place,
      ...(request.rows === 'tag' ? [tag] : []),
      tags,
      all.due / SECOND / 3600,
      all.missing / SECOND / 3600,
      all.explained / SECOND / 3600,
      completePercent(all),
      ...cells.map(completePercent),
    ];
  });
  return { name: 'Completeness', columns, batches: once(lines) };
}

function gapTable(gaps: readonly Gap[]): Table {
  const columns: Column[] = [
    { name: 'from', kind: 'text' },
    { name: 'to', kind: 'text' },
    { name: 'seconds', kind: 'number' },
    { name: 'where', kind: 'text' },
    { name: 'source', kind: 'text' },
    { name: 'what happened', kind: 'text' },
    { name: 'state', kind: 'text' },
    { name: 'explained by', kind: 'text' },
    { name: 'explanation', kind: 'text' },
  ];
  const lines = gaps.map(({ from, to, seconds, tag, tags, source, sentence, state, explained, fate }): Row => [
    from,
    to,
    seconds,
    tag ?? `${tags} tags`,
    source,
    sentence,
    fate === '' ? state : `${state}: ${fate}`,
    explained?.by ?? null,
    explained?.reason ?? null,
  ]);
  return { name: 'Gaps', columns, batches: once(lines) };
}
