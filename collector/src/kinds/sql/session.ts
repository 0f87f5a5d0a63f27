/** Reading a table on: by its progress column, and once more where others may have been committed before what was read. */
import type { SqlConnection } from '@wide-ledger/contract';
import { RecordReader, SECOND, Status, parseInstant, type FileCell } from '@wide-ledger/core';
import { createHash } from 'node:crypto';
import { SourceAway, type Cursor, type RecordPart, type RecordSession, type TagOf } from '../kind.ts';
import { RowTroubles, sampleOfRecord, takenBy } from '../recordSamples.ts';
import type { Column, Database, Rows } from './database.ts';
import {
  ROWS_A_TIME,
  SNAPSHOT_STATEMENT,
  betweenStatement,
  columnsStatement,
  endStatement,
  onStatement,
  progressOf,
  samePlaceStatement,
} from './query.ts';
import { MOST_UNSETTLED, Settling, snapshotOf, type Snapshot } from './settling.ts';

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

/** A batch of so many rows is looked at again for what was committed late; smaller ones once all is read. */
const ROWS_A_BATCH = 50_000;
const WITHOUT_SNAPSHOTS =
  'This database does not tell which transactions are open: rows that are committed later than the delay after others are not seen.';

/** Behind the record's own columns: the row's place, and the database's clock. */
const OWN_COLUMNS = 2;

export class SqlSession implements RecordSession<'sql'> {
  readonly acquires = 'record';
  private readonly counts = { requests: 0, bytes: 0 };
  private columns: readonly Column[] | null = null;
  /** What may still come before what was read, and for which cursor's place that is known. */
  private settling: { readonly of: Settling; place: string | null } | null = null;
  private tellsSnapshots = true;

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
    if (!known || this.settling?.place !== place) {
      const begin = known ? settled : null;
      this.settling = { of: new Settling(begin), place: begin };
    }
    const before = this.settling.place;
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
    const newest = taken.at(-1)?.place ?? before;
    const goesOn = more && !young;
    if (newest !== null && taken.length > 0)
      this.settling.of.note(
        newest,
        taken.map(({ cells }) => rowOf(cells)),
      );
    this.settling.place = newest;
    const late = (await this.committedLate(goesOn, troubles)).map((cells) => reader.read(cells));
    for (const { trouble } of [...taken, ...late]) troubles.note(trouble);
    const samples = [...late, ...taken].flatMap(({ values }) => values.map(sampleOfRecord));
    const cursor = this.at({ place: newest, time: last, settled: this.settling.of.settled });
    return { samples, cursor, more: goesOn, troubles: troubles.faults };
  }

  /**
   * Rows that were committed since, before places that were read; once for each batch, and for as long as a transaction is
   * open that may write some.
   */
  private async committedLate(goesOn: boolean, troubles: RowTroubles): Promise<readonly (readonly FileCell[])[]> {
    const { of: settling } = this.settling!;
    if (!this.tellsSnapshots || (goesOn && settling.rows < ROWS_A_BATCH)) return [];
    if (settling.rows === 0) return [];
    const snapshot = await this.openTransactions(troubles);
    if (snapshot === null) return [];
    settling.close(snapshot);
    const late = await this.lookAgain(settling);
    if (late.length > 0) {
      settling.noteLate(late.map(rowOf));
      const places = late.map((cells) => String(cells.at(-OWN_COLUMNS)));
      troubles.note(
        `${late.length === 1 ? 'A row was' : `${late.length} rows were`} committed after later ones, and read now: ${progressOf(this.connection)} ${places.slice(0, 3).join(', ')}${places.length > 3 ? ' …' : ''}.`,
      );
    }
    settling.settle(snapshot);
    if (settling.rows > MOST_UNSETTLED) {
      settling.giveUp();
      troubles.note(
        'A transaction has been open for so long that its rows cannot be waited for any more: what it commits before rows that were read is not seen. End it, or fetch that time again.',
      );
    }
    return late;
  }

  private async lookAgain(settling: Settling): Promise<readonly (readonly FileCell[])[]> {
    const { doubtful, settled } = settling;
    if (doubtful === null) return [];
    const type = this.progressType;
    const values = settled === null ? [doubtful.to] : [doubtful.to, settled];
    const between = (what: 'rows' | 'count') =>
      this.ask(betweenStatement(this.connection, type, settled !== null, what), values);
    if (Number((await between('count')).rows[0]![0]) === doubtful.seen) return [];
    return (await between('rows')).rows.filter((cells) => !settling.wasSeen(rowOf(cells)));
  }

  /** Which transactions are open; null where the database does not tell. */
  private async openTransactions(troubles: RowTroubles): Promise<Snapshot | null> {
    try {
      const { rows } = await this.ask(SNAPSHOT_STATEMENT);
      const [xmin, xmax, open] = rows[0]?.map((cell) => String(cell ?? '')) ?? [];
      if (xmin !== undefined)
        return snapshotOf(BigInt(xmin), BigInt(xmax!), open!.split(' ').filter(Boolean).map(BigInt));
    } catch (error) {
      if (!(error instanceof SourceAway) || !error.code.startsWith('SQL_')) throw error;
    }
    this.tellsSnapshots = false;
    this.settling!.of.giveUp();
    troubles.note(WITHOUT_SNAPSHOTS);
    return null;
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

/** What tells a row from all others: its place and all that it holds. */
const rowOf = (cells: readonly FileCell[]): string => cells.slice(0, -1).map(String).join('\u0000');

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
