/** Reading a table on: by its progress column, and once more where others may have been committed before what was read. */
import type { SqlConnection } from '@wide-ledger/contract';
import { RecordReader, SECOND, Status, parseInstant, type FileCell } from '@wide-ledger/core';
import { createHash } from 'node:crypto';
import { SourceAway, type Cursor, type RecordPart, type RecordSession, type TagOf } from '../kind.ts';
import { RowTroubles, sampleOfRecord, takenBy } from '../recordSamples.ts';
import type { Column, Database, Rows } from './database.ts';
import { LateRows } from './lateRows.ts';
import {
  OWN_COLUMNS,
  ROWS_A_TIME,
  columnsStatement,
  endStatement,
  onStatement,
  progressOf,
  samePlaceStatement,
} from './query.ts';

/** How far a table is read. */
interface Place {
  /** Of which query: of another one it says nothing. */
  readonly of: string;
  /** The progress column's last value, as the database writes it; null: nothing is read yet. */
  readonly place: string | null;
  /** The last row's time, in microseconds: in an hour that a clock shows twice it tells which is meant. */
  readonly time: number | null;
  /** Up to which place no row can be committed any more: a restart goes on from there. Older places do not say. */
  readonly settled?: string | null;
}

export class SqlSession implements RecordSession<'sql'> {
  readonly acquires = 'record';
  private readonly counts = { requests: 0, bytes: 0 };
  private columns: readonly Column[] | null = null;
  /** What may still come before what was read last. */
  private lateRows: LateRows | null = null;

  constructor(
    private readonly connection: SqlConnection,
    private readonly database: Database,
  ) {}

  get readsAll(): boolean {
    return this.connection.begin === 'at its beginning';
  }

  get traffic() {
    return this.counts;
  }

  async look(): Promise<void> {
    const { columns } = await this.ask(columnsStatement(this.connection));
    const problem =
      RecordReader.problemOf(
        columns.map(({ name }) => name),
        this.connection,
      ) ?? missingProgress(columns, this.connection);
    if (problem !== null) throw new SourceAway(problem, 'NO_COLUMN', Status.BadConfigurationError);
    this.columns = columns;
  }

  async begin(): Promise<Cursor> {
    if (this.readsAll) return this.at({ place: null, time: null });
    const { rows } = await this.ask(endStatement(this.connection));
    return this.at({ place: (rows[0]?.[0] as string | null | undefined) ?? null, time: null });
  }

  async readOn(tags: readonly TagOf<'sql'>[], from: Cursor): Promise<RecordPart> {
    if (this.columns === null) await this.look();
    const { of, place = null, time, settled = place } = from as unknown as Partial<Place>;
    const known = of === this.query;
    // What was seen behind the settled place is not remembered across sessions: it is read again.
    if (!known || this.lateRows?.place !== place)
      this.lateRows = new LateRows(this.connection, (text, values) => this.ask(text, values), known ? settled : null);
    const { lateRows } = this;
    const before = lateRows.place;
    const { rows, more, columns } = await this.rowsBehind(before);
    const troubles = new RowTroubles();
    troubles.note(this.changeOf(columns));
    const names = columns.map(({ name }) => name);
    // By their names in this very answer: a column may have been dropped since the last one.
    const problem = RecordReader.problemOf(names, this.connection);
    if (problem !== null) throw new SourceAway(problem, 'NO_COLUMN', Status.BadConfigurationError);
    const reader = new RecordReader(names, this.connection, takenBy(tags), known ? (time ?? null) : null);
    const read = rows.map((cells) => ({ place: cells.at(-OWN_COLUMNS) as string, cells, ...reader.read(cells) }));
    const young = read.find(({ time: at, cells }) => isTooYoung(at, cells, this.connection.delaySeconds));
    // Those that share the place of one that is left alone are left along with it: reading goes on behind a place.
    const taken = young
      ? read.slice(
          0,
          read.findIndex((row) => row.place === young.place),
        )
      : read;
    const last = taken.findLast((row) => row.time !== null)?.time ?? (known ? (time ?? null) : null);
    const newest = taken.at(-1);
    const goesOn = more && !young;
    if (newest)
      lateRows.note(
        newest.place,
        taken.map(({ cells }) => cells),
      );
    const found = await lateRows.find(this.progressType, goesOn, (sentence) => troubles.note(sentence));
    const late = found.map((cells) => reader.read(cells));
    for (const { trouble } of [...taken, ...late]) troubles.note(trouble);
    const samples = [...late, ...taken].flatMap(({ values }) => values.map(sampleOfRecord));
    const cursor = this.at({ place: lateRows.place, time: last, settled: lateRows.settled });
    return { samples, cursor, more: goesOn, troubles: troubles.faults };
  }

  private get progressType(): string {
    return this.columns!.find(({ name }) => name === progressOf(this.connection))!.type;
  }

  close(): void {
    this.database.close();
  }

  /** Rows of a place stay together: what is read on begins behind all of them. */
  private async rowsBehind(
    place: string | null,
  ): Promise<{ rows: readonly (readonly FileCell[])[]; more: boolean; columns: readonly Column[] }> {
    const type = this.progressType;
    const values = place === null ? [] : [place];
    const { rows, columns: all } = await this.ask(
      onStatement(this.connection, type, place !== null, ROWS_A_TIME),
      values,
    );
    const columns = all.slice(0, -OWN_COLUMNS);
    if (rows.length < ROWS_A_TIME) return { rows, more: false, columns };
    const last = rows.at(-1)!.at(-OWN_COLUMNS);
    const whole = rows.filter((row) => row.at(-OWN_COLUMNS) !== last);
    if (whole.length > 0) return { rows: whole, more: true, columns };
    const same = await this.ask(samePlaceStatement(this.connection, type), [last]);
    return { rows: same.rows, more: true, columns: same.columns.slice(0, -OWN_COLUMNS) };
  }

  /** What changed of the columns since the last answer, as a sentence; null: nothing. */
  private changeOf(columns: readonly Column[]): string | null {
    const [before, now] = [this.columns!, columns].map((some) => some.map(({ name }) => name));
    this.columns = columns;
    const [gone, added] = [
      before!.filter((name) => !now!.includes(name)),
      now!.filter((name) => !before!.includes(name)),
    ];
    if (gone.length + added.length === 0) return null;
    const parts = [
      ...(gone.length > 0 ? [`${gone.join(', ')} is gone`] : []),
      ...(added.length > 0 ? [`${added.join(', ')} is new`] : []),
    ];
    return `The columns of the query have changed: ${parts.join('; ')}.`;
  }

  private at(place: Omit<Place, 'of'>): Cursor {
    return { of: this.query, ...place };
  }

  private get query(): string {
    const { query } = this.connection;
    return createHash('sha256')
      .update(JSON.stringify([query, progressOf(this.connection)]))
      .digest('hex')
      .slice(0, 16);
  }

  private async ask(text: string, values: readonly unknown[] = []): Promise<Rows> {
    const answer = await this.database.ask(text, values);
    this.counts.requests++;
    this.counts.bytes += answer.rows.length * answer.columns.length * 8;
    return answer;
  }
}

export function missingProgress(columns: readonly Column[], connection: SqlConnection): string | null {
  const progress = progressOf(connection);
  return columns.some(({ name }) => name === progress)
    ? null
    : `There is no column ${progress} by which the query's rows could be read on.`;
}

/** @param time microseconds; null: it is not known how old the row is. */
function isTooYoung(time: number | null, cells: readonly FileCell[], delaySeconds: number): boolean {
  const now = parseInstant(databaseTime(String(cells.at(-1))));
  if (time === null || now === undefined) return false;
  // What is dated further ahead than rows are ever left alone is no row that will settle: it holds up nothing.
  return time > now - delaySeconds * SECOND && time <= now + delaySeconds * SECOND;
}

/** RFC 3339 wants a T, and minutes behind the hours of an offset. */
const databaseTime = (text: string): string => text.replace(' ', 'T').replace(/([+-]\d\d)$/, '$1:00');
