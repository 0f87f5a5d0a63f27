/** Rows that are committed before rows that were read: found by the transactions that were open then. */
import type { SqlConnection } from '@wide-ledger/contract';
import type { FileCell } from '@wide-ledger/core';
import { SourceAway } from '../kind.ts';
import type { Rows } from './database.ts';
import { OWN_COLUMNS, SNAPSHOT_STATEMENT, betweenStatement, progressOf } from './query.ts';
import { MOST_UNSETTLED, Settling, snapshotOf, type Snapshot } from './settling.ts';

type Row = readonly FileCell[];
type Ask = (text: string, values?: readonly unknown[]) => Promise<Rows>;

/** A batch of so many rows is looked at again; smaller ones once all is read. */
const ROWS_A_BATCH = 50_000;
/** So many places are named. */
const NAMED = 3;

const WITHOUT_SNAPSHOTS =
  'This database does not show which transactions are open, as a standby does not. Rows that are committed later than the delay are missed.';

/** What tells a row from all others: its place and all that it holds. */
const rowOf = (cells: Row): string => cells.slice(0, -1).map(String).join('\u0000');

/** What may still come before what was read of one query, from one place on. */
export class LateRows {
  private readonly settling: Settling;
  private tellsSnapshots = true;

  /** @param place where reading begins: nothing is looked for before it */
  constructor(
    private readonly connection: SqlConnection,
    private readonly ask: Ask,
    public place: string | null,
  ) {
    this.settling = new Settling(place);
  }

  /** The place before which nothing can come any more: a restart goes on from there. */
  get settled(): string | null {
    return this.settling.settled;
  }

  /** Rows were read, up to a place. */
  note(place: string, rows: readonly Row[]): void {
    this.place = place;
    this.settling.note(place, rows.map(rowOf));
  }

  /**
   * Rows that were committed since, before places that were read: looked for once for each batch, and for as long as a
   * transaction is open that may write some.
   * @param type of the progress column. @param goesOn whether more is to be read at once. @param tell takes sentences for people
   */
  async find(type: string, goesOn: boolean, tell: (sentence: string) => void): Promise<readonly Row[]> {
    const { settling } = this;
    if (settling.rows === 0 || (goesOn && settling.rows < ROWS_A_BATCH)) return [];
    const snapshot = await this.openTransactions(tell);
    if (snapshot === null) {
      settling.giveUp();
      return [];
    }
    settling.close(snapshot);
    const late = await this.lookAgain(type);
    if (late.length > 0) {
      settling.noteLate(late.map(rowOf));
      tell(this.lateWords(late));
    }
    settling.settle(snapshot);
    if (settling.rows > MOST_UNSETTLED) {
      settling.giveUp();
      tell(
        `A transaction has been open for too long: rows that it commits at or below ${progressOf(this.connection)} ${settling.settled} are missed. End it, then backfill that time.`,
      );
    }
    return late;
  }

  private lateWords(late: readonly Row[]): string {
    const places = late.slice(0, NAMED).map((cells) => String(cells.at(-OWN_COLUMNS)));
    const which = `${progressOf(this.connection)} ${places.join(', ')}${late.length > NAMED ? ' …' : ''}`;
    return late.length === 1
      ? `1 row was committed late, and is read now: ${which}.`
      : `${late.length} rows were committed late, and are read now: ${which}.`;
  }

  private async lookAgain(type: string): Promise<readonly Row[]> {
    const { doubtful, settled } = this.settling;
    if (doubtful === null) return [];
    const values = settled === null ? [doubtful.to] : [doubtful.to, settled];
    const between = (what: 'rows' | 'count'): Promise<Rows> =>
      this.ask(betweenStatement(this.connection, type, settled !== null, what), values);
    if (Number((await between('count')).rows[0]![0]) === doubtful.seen) return [];
    return (await between('rows')).rows.filter((cells) => !this.settling.wasSeen(rowOf(cells)));
  }

  /** Which transactions are open; null where the database does not tell, which is said once. */
  private async openTransactions(tell: (sentence: string) => void): Promise<Snapshot | null> {
    if (!this.tellsSnapshots) return null;
    try {
      const { rows } = await this.ask(SNAPSHOT_STATEMENT);
      const [xmin, xmax, open] = rows[0]?.map((cell) => String(cell ?? '')) ?? [];
      if (xmin !== undefined)
        return snapshotOf(BigInt(xmin), BigInt(xmax!), open!.split(' ').filter(Boolean).map(BigInt));
    } catch (error) {
      // It knows no such functions, or this user may not ask (class 42); anything else is no answer to that.
      if (!(error instanceof SourceAway) || !error.code.startsWith('SQL_42')) throw error;
    }
    this.tellsSnapshots = false;
    tell(WITHOUT_SNAPSHOTS);
    return null;
  }
}
