/** What kinds have in common whose values somebody else writes down: rows as samples of tags, and as people look at them. Pure. */
import type { ConfiguredTag, RecordAddress, RowsAnswer } from '@wide-ledger/contract';
import {
  RecordReader,
  isGiven,
  shownCell,
  type FileCell,
  type MessageRow,
  type RecordSeries,
  type RecordTerms,
} from '@wide-ledger/core';
import { sampleOfValue } from '../tagLife/conversion.ts';
import type { Fault, Sample } from './kind.ts';

type Tag = ConfiguredTag<RecordAddress>;

/** So many series are proposed. */
const MOST_SERIES = 5000;
const LONGEST_SHOWN = 80;

export const takenBy = (tags: readonly Tag[]): RecordSeries<Tag>[] =>
  tags.map((tag) => ({ tag, series: tag.reading.address.series, isText: tag.type === 'text' }));

/** A value as it goes on: what is no number where a tag keeps numbers goes as it is written, and is set aside by the archive. */
export function sampleOfRecord({ tag, value, status, time }: MessageRow<ConfiguredTag>): Sample {
  if (value === null) return { tag: tag.id, value, status, sourceTime: time, fault: null };
  if (typeof value !== 'string' || tag.type === 'text') return sampleOfValue(tag, value, status, time);
  return { tag: tag.id, value, status, sourceTime: time, fault: null };
}

/** Troubles of many rows, each once. */
export class RowTroubles {
  private readonly times = new Map<string, number>();

  note(sentence: string | null): void {
    if (sentence !== null) this.times.set(sentence, (this.times.get(sentence) ?? 0) + 1);
  }

  get counted(): RowsAnswer['troubles'] {
    return [...this.times].map(([sentence, times]) => ({ sentence, times }));
  }

  /** For people: the first few, with how often. */
  get faults(): Fault[] {
    return this.counted.slice(0, 5).map(({ sentence, times }) => ({
      code: 'ROW',
      sentence: times === 1 ? sentence : `${sentence} (${times} rows.)`,
    }));
  }
}

/** The series of a record: columns with values, or names of rows. */
export function seriesIn(
  names: readonly string[],
  rows: readonly (readonly FileCell[])[],
  { time, status, series }: RecordTerms,
): string[] {
  const naming = series === '' ? -1 : names.indexOf(series);
  if (naming < 0) return names.filter((name) => name !== time && name !== status && name !== '');
  const found = new Set<string>();
  for (const row of rows) {
    const cell = row[naming] ?? null;
    if (isGiven(cell) && found.size < MOST_SERIES) found.add(shownCell(cell));
  }
  return [...found].sort();
}

/** Rows as people look at them, with what becomes of them. */
export function shownRows(
  columns: readonly RowsAnswer['columns'][number][],
  rows: readonly (readonly FileCell[])[],
  terms: RecordTerms,
  shown: { readonly most: number; readonly said: string },
): RowsAnswer {
  const names = columns.map(({ name }) => name);
  const series = seriesIn(names, rows, terms);
  const troubles = new RowTroubles();
  const problem = RecordReader.problemOf(names, terms);
  let read = 0;
  if (problem !== null) troubles.note(problem);
  else {
    const taken = series.map((one) => ({ tag: one, series: one, isText: false }));
    const reader = new RecordReader(names, terms, taken);
    for (const cells of rows) {
      const row = reader.read(cells);
      troubles.note(row.trouble);
      for (const { trouble } of row.values) troubles.note(trouble);
      if (row.values.some(({ value, trouble }) => value !== null && trouble === null)) read++;
    }
  }
  return {
    columns: [...columns],
    rows: rows
      .slice(-shown.most)
      .map((row) =>
        names.map((_, i) => (row[i] === null || row[i] === undefined ? null : String(row[i]).slice(0, LONGEST_SHOWN))),
      ),
    read,
    troubles: troubles.counted,
    series,
    said: shown.said,
  };
}
