/** Aggregates of one or several tags over the same intervals, each tag in one pass. */
import {
  AggregateCalculation,
  OWN_VALUE_AGGREGATES,
  describeStatus,
  edgesOf,
  formatInstant,
  intervalName,
  textBook,
  type AggregateName,
  type Bucket,
  type ResultColumns,
} from '@wide-ledger/core';
import type { TagType } from '@wide-ledger/contract';
import type { Stores } from '../../stores/stores.ts';
import type { Answer, Cell, Column, Row } from '../formats/table.ts';
import { PLAIN, outputValue } from '../../values/output.ts';
import type { ReadTag } from '../readTag.ts';
import { AskerLeft, type ProcessedRequest, type Asker } from '../requests.ts';
import type { TagLedger } from '../tagLedger.ts';
import { resultColumns, valueColumn } from './columns.ts';
import { askLedger } from './pieces.ts';

/** One tag's results by aggregate, and its values by aggregate and interval as the tag's type shows them. */
export interface TagResults {
  readonly results: readonly ResultColumns[];
  readonly values: readonly (readonly Cell[])[];
}

async function annotatedTimes(ledger: TagLedger, tag: ReadTag, buckets: readonly Bucket[]): Promise<Float64Array> {
  const { times: edges } = edgesOf(buckets);
  const rows = await ledger.rows<{ time: number }>(
    'SELECT time FROM annotation WHERE tag_id = $1 AND time >= $2 AND time <= $3 ORDER BY time',
    [tag.id, edges[0]!, edges[buckets.length]!],
  );
  return Float64Array.from(rows, ({ time }) => time);
}

/** Several aggregates of one tag, read in one pass. */
export async function aggregateTag(
  stores: Stores,
  tag: ReadTag,
  { buckets, aggregates }: Pick<ProcessedRequest, 'buckets' | 'aggregates'>,
  asker: Asker,
): Promise<TagResults> {
  const texts = textBook();
  const isOwn = aggregates.map((name) => OWN_VALUE_AGGREGATES.has(name));
  const [results, wholes] = await askLedger(stores, tag, async (ledger) => {
    const annotations = aggregates.includes('AnnotationCount') ? await annotatedTimes(ledger, tag, buckets) : undefined;
    const calculation = new AggregateCalculation(buckets, aggregates, tag.configuration, annotations);
    const reader = {
      takesWhole: (first: number, last: number) => calculation.takesWhole(first, last),
      parts: calculation.parts,
      neighbours: true,
      usesUncertain: !tag.configuration.treatUncertainAsBad,
    };
    for await (const piece of ledger.pieces(calculation.from, calculation.to, reader)) {
      if (asker.gone) throw new AskerLeft();
      if (piece.kind === 'summaries') for (const run of piece.runs) calculation.takeSummary(run);
      else calculation.take(texts.recode(piece.frame));
    }
    const columns = calculation.finish(tag.watchedUntil);
    const beyond = tag.type === 'integer' ? beyondDoubles(columns.filter((_, k) => isOwn[k])) : NO_TIMES;
    return [columns, await ledger.wholesAt(beyond)];
  });
  const values = results.map((ofOne, k) =>
    Array.from(ofOne.values, (value, i) => {
      const status = ofOne.status[i]!;
      // An aggregate without a value has none, whatever its status says.
      if (Number.isNaN(value)) return null;
      if (!isOwn[k]) return outputValue(PLAIN, value, null, status);
      return outputValue(tag, value, texts.textOf(value), status, wholes.get(ofOne.sampleTimes[i]!) ?? null);
    }),
  );
  return { results, values };
}

const NO_TIMES = new Float64Array(0);

/** Times of the samples behind results that doubles may not hold to the last digit, ascending. */
function beyondDoubles(columns: readonly ResultColumns[]): Float64Array {
  const times = new Set<number>();
  for (const { values, sampleTimes } of columns) {
    values.forEach((value, i) => {
      if (Number.isInteger(value) && !Number.isSafeInteger(value) && !Number.isNaN(sampleTimes[i]))
        times.add(sampleTimes[i]!);
    });
  }
  return Float64Array.from(times).sort();
}

/** While one tag is computed the database looks up the next ones. */
const TAGS_AT_ONCE = 4;
/** Rows of a wide table that are written at a time. */
const ROWS_AT_ONCE = 256;

/** Aggregates of one tag: a row for each interval and aggregate. */
export function processedAnswer(stores: Stores, request: ProcessedRequest, asker: Asker): Answer {
  const answer = { list: 'rows', head: request.echo, foot: () => ({}) };
  if (request.single) return { ...answer, tables: [singleTable(stores, request, asker)] };
  if (request.layout === 'sheets') {
    const tables = request.tags.map((tag) => wideTable(stores, { ...request, tags: [tag] }, tag.name, asker));
    return { ...answer, tables };
  }
  return { ...answer, tables: [wideTable(stores, request, 'processed', asker)] };
}

/** One tag, one aggregate: a row per interval. */
function singleTable(stores: Stores, request: ProcessedRequest, asker: Asker): Answer['tables'][number] {
  const [tag] = request.tags;
  async function* batches(): AsyncGenerator<Row[]> {
    const { results, values } = await aggregateTag(stores, tag!, request, asker);
    const { times, status } = results[0]!;
    yield request.buckets.map(({ begin, finish }, i) => {
      const label = request.labelAtEnd && times[i] === begin ? finish : times[i]!;
      return [label, values[0]![i]!, status[i]!, describeStatus(status[i]!)];
    });
  }
  const type = typeOf(tag!, request.aggregates[0]!);
  return { name: tag!.name, columns: resultColumns([{ type }]), batches: batches() };
}

/** Several tags or aggregates: a row per interval, with value and quality of each side by side. */
function wideTable(stores: Stores, request: ProcessedRequest, name: string, asker: Asker): Answer['tables'][number] {
  const columns: Column[] = [
    { name: 'from', kind: 'time' },
    { name: 'to', kind: 'time' },
  ];
  const { names } = request;
  if (names) columns.push({ name: 'interval', kind: 'text' });
  for (const tag of request.tags) {
    for (const aggregateName of request.aggregates) {
      // The same name whatever else is asked for.
      const column = `${tag.name} ${aggregateName}`;
      columns.push(valueColumn(column, [typeOf(tag, aggregateName)]), { name: `${column} quality`, kind: 'text' });
    }
  }
  async function* batches(): AsyncGenerator<Row[]> {
    const all: TagResults[] = [];
    for (let at = 0; at < request.tags.length; at += TAGS_AT_ONCE) {
      const next = request.tags.slice(at, at + TAGS_AT_ONCE);
      all.push(...(await Promise.all(next.map((tag) => aggregateTag(stores, tag, request, asker)))));
    }
    const { buckets } = request;
    for (let at = 0; at < buckets.length; at += ROWS_AT_ONCE) {
      yield buckets.slice(at, at + ROWS_AT_ONCE).map(({ begin, finish }, k) => {
        const row: Cell[] = [Math.min(begin, finish), Math.max(begin, finish)];
        if (names) row.push(intervalName(Math.min(begin, finish), names.interval, names.zone));
        for (const { results, values } of all) {
          for (let a = 0; a < results.length; a++) {
            row.push(values[a]![at + k]!, qualityOf(results[a]!, at + k, begin));
          }
        }
        return row;
      });
    }
  }
  return { name, columns, batches: batches() };
}

/** Aggregates that may give what lies between two values of the tag. */
const BETWEEN = /^(Interpolative|StartBound|EndBound|.*2)$/;

/** The type of an aggregate's results: the tag's own where it gives values of the tag, else a number. */
const typeOf = (tag: ReadTag, aggregate: AggregateName): TagType =>
  OWN_VALUE_AGGREGATES.has(aggregate) && !(tag.type === 'integer' && BETWEEN.test(aggregate)) ? tag.type : 'real';

/** The status in words, with the time where the result has one of its own. */
function qualityOf({ times, status }: ResultColumns, index: number, begin: number): string {
  const words = describeStatus(status[index]!);
  return times[index] === begin ? words : `${words} @ ${formatInstant(times[index]!)}`;
}
