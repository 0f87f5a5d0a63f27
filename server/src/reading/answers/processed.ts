/** Aggregates of one or several tags over the same intervals, each tag in one pass. */
import {
  AggregatePass,
  OWN_VALUE_AGGREGATES,
  describeStatus,
  edgesOf,
  formatInstant,
  partsFor,
  resultsOf,
  textBook,
  type AggregateName,
  type AggregateResult,
} from '@wide-ledger/core';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Cell, Column, Row } from '../formats/table.ts';
import { PLAIN, presentValue } from '../present.ts';
import { AskerLeft, type ProcessedRequest, type ReadTag, type Waiting } from '../requests.ts';
import type { TagLedger } from '../tagLedger.ts';
import { RESULT_COLUMNS } from './columns.ts';
import { askLedger } from './pieces.ts';

/** One tag's results: by aggregate, then by interval, with values as the tag's type shows them. */
export interface TagResults {
  readonly tag: ReadTag;
  readonly results: readonly (readonly AggregateResult[])[];
  readonly values: readonly (readonly Cell[])[];
}

async function annotatedTimes(ledger: TagLedger, tag: ReadTag, edges: Float64Array): Promise<Float64Array> {
  const rows = await ledger.rows<{ time: number }>(
    'SELECT time FROM annotation WHERE tag_id = $1 AND time >= $2 AND time <= $3 ORDER BY time',
    [tag.id, edges[0]!, edges[edges.length - 1]!],
  );
  return Float64Array.from(rows, ({ time }) => time);
}

/** Several aggregates of one tag, read in one pass. */
export async function aggregateTag(
  stores: Stores,
  tag: ReadTag,
  { buckets, aggregates }: Pick<ProcessedRequest, 'buckets' | 'aggregates'>,
  waiting: Waiting,
): Promise<TagResults> {
  const { configuration } = tag;
  const { times: edges, reverse } = edgesOf(buckets);
  const pass = new AggregatePass(edges, reverse, configuration, partsFor(aggregates, configuration.stepped));
  const texts = textBook();
  const annotations = await askLedger(stores, tag, async (ledger) => {
    const reader = {
      takesWhole: (first: number, last: number) => pass.takesWhole(first, last),
      neighbours: true,
      usesUncertain: !configuration.treatUncertainAsBad,
    };
    for await (const piece of ledger.pieces(edges[0]!, edges[edges.length - 1]!, reader)) {
      if (waiting.gone) throw new AskerLeft();
      if (piece.kind === 'summaries') for (const run of piece.runs) pass.takeSummary(run);
      else pass.take(texts.recode(piece.frame));
    }
    return aggregates.includes('AnnotationCount') ? annotatedTimes(ledger, tag, edges) : new Float64Array(0);
  });
  const passed = pass.finish(tag.watchedUntil);
  const results = resultsOf(passed, buckets, aggregates, configuration, annotations);
  const values = results.map((ofOne, k) => {
    const own = OWN_VALUE_AGGREGATES.has(aggregates[k]!);
    return ofOne.map(({ value }) => presentValue(own ? tag : PLAIN, value, own ? texts.textOf(value) : null));
  });
  return { tag, results, values };
}

/** While one tag is computed the database looks up the next ones. */
const TAGS_AT_ONCE = 4;

export function processedAnswer(stores: Stores, request: ProcessedRequest, waiting: Waiting): Answer {
  const answer = { list: 'rows', head: request.echo, foot: () => ({}) };
  if (request.single) return { ...answer, tables: [singleTable(stores, request, waiting)] };
  if (request.layout === 'sheets') {
    const tables = request.tags.map((tag) => wideTable(stores, { ...request, tags: [tag] }, tag.name, waiting));
    return { ...answer, tables };
  }
  return { ...answer, tables: [wideTable(stores, request, 'processed', waiting)] };
}

/** One tag, one aggregate: a row per interval. */
function singleTable(stores: Stores, request: ProcessedRequest, waiting: Waiting): Answer['tables'][number] {
  const [tag] = request.tags;
  async function* batches(): AsyncGenerator<Row[]> {
    const { results, values } = await aggregateTag(stores, tag!, request, waiting);
    yield results[0]!.map(({ time, status }, i) => {
      const { begin, finish } = request.buckets[i]!;
      const label = request.labelAtEnd && time === begin ? finish : time;
      return [label, values[0]![i]!, status, describeStatus(status)];
    });
  }
  return { name: tag!.name, columns: RESULT_COLUMNS, batches: batches() };
}

/** Several tags or aggregates: a row per interval, with value and quality of each side by side. */
function wideTable(
  stores: Stores,
  request: ProcessedRequest,
  name: string,
  waiting: Waiting,
): Answer['tables'][number] {
  const columns: Column[] = [
    { name: 'from', kind: 'time' },
    { name: 'to', kind: 'time' },
  ];
  for (const tag of request.tags) {
    for (const aggregateName of request.aggregates) {
      const column = columnName(request, tag, aggregateName);
      columns.push({ name: column, kind: 'value' }, { name: `${column} quality`, kind: 'text' });
    }
  }
  async function* batches(): AsyncGenerator<Row[]> {
    const all: TagResults[] = [];
    for (let at = 0; at < request.tags.length; at += TAGS_AT_ONCE) {
      const next = request.tags.slice(at, at + TAGS_AT_ONCE);
      all.push(...(await Promise.all(next.map((tag) => aggregateTag(stores, tag, request, waiting)))));
    }
    yield request.buckets.map(({ begin, finish }, i) => [
      Math.min(begin, finish),
      Math.max(begin, finish),
      ...all.flatMap(({ results, values }) =>
        results.flatMap((ofOne, k) => [values[k]![i]!, qualityOf(ofOne[i]!, begin)]),
      ),
    ]);
  }
  return { name, columns, batches: batches() };
}

const columnName = (request: ProcessedRequest, tag: ReadTag, aggregateName: AggregateName): string =>
  request.tags.length === 1 ? aggregateName : `${tag.name} ${aggregateName}`;

/** The status in words, with the time where the result has one of its own. */
function qualityOf({ time, status }: AggregateResult, begin: number): string {
  const words = describeStatus(status);
  return time === begin ? words : `${words} @ ${formatInstant(time)}`;
}
