/**
 * Some tags' blocks in the tables that hold them, within one snapshot. Tables are asked by name, several in a statement, and
 * let go of again: neither plans nor locks grow with how many tables there are.
 */
import { monthStart, nextMonth } from '@wide-ledger/core';
import type { PoolClient, QueryResultRow } from 'pg';
import { blockTable } from '../ledger/parts.ts';

/** Tables asked in one statement, and locked at a time. */
const TABLES_AT_ONCE = 12;
const NO_SUCH_TABLE = '42P01';

/** Adjoining months of the tags, and the tables that hold them. Microseconds. */
export interface Stretch {
  readonly tables: readonly string[];
  readonly from: number;
  readonly to: number;
}

interface Month {
  readonly month: number;
  readonly part: string;
}

/** The tables that hold the months of some tags, opened a few at a time, so that a long reading holds few locks. */
export class TagTables {
  private known: Promise<Month[]> | null = null;
  private readonly locked = new Set<string>();
  private begun = false;
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly client: PoolClient,
    private readonly tags: readonly number[],
  ) {}

  private months(): Promise<Month[]> {
    this.known ??= this.client
      .query<Month>({
        name: 'tag_months',
        text: 'SELECT DISTINCT month, part FROM ledger_month WHERE tag_id = ANY($1::int[]) ORDER BY month',
        values: [this.tags],
      })
      .then(({ rows }) => rows);
    return this.known;
  }

  /** The months that overlap [from, to) in ascending time, as few statements as may ask for them. */
  async stretches(from: number, to: number): Promise<Stretch[]> {
    const wanted = (await this.months()).filter(({ month }) => month >= monthStart(from) && month < to);
    return gather(wanted, TABLES_AT_ONCE);
  }

  /** The months before a time, or after it, each table by itself, the nearest first. The month of the time is among them. */
  async outwards(side: 'before' | 'after', time: number): Promise<Stretch[]> {
    const here = monthStart(time);
    const months = await this.months();
    return side === 'before'
      ? gather(
          months.filter(({ month }) => month <= here),
          1,
        ).reverse()
      : gather(
          months.filter(({ month }) => month >= here),
          1,
        );
  }

  /**
   * Rows of all tables of a stretch.
   * @param selectFrom the statement for one table.
   * @param around what is selected from their union; nothing: the rows themselves.
   */
  ask<Row extends QueryResultRow>(
    tables: readonly string[],
    selectFrom: (table: string) => string,
    values: unknown[],
    around: (union: string) => string = (union) => union,
  ): Promise<Row[]> {
    const asking = this.last.then(() => this.askNow<Row>(tables, selectFrom, values, around));
    // One after the other: after a failure the next one must not be asked before the rollback.
    this.last = asking.catch(() => undefined);
    return asking;
  }

  private async askNow<Row extends QueryResultRow>(
    tables: readonly string[],
    selectFrom: (table: string) => string,
    values: unknown[],
    around: (union: string) => string,
  ): Promise<Row[]> {
    if (tables.length === 0) return [];
    if (!this.begun) await this.client.query('SAVEPOINT tables');
    this.begun = true;
    if (tables.some((table) => !this.locked.has(table)) && this.locked.size + tables.length > TABLES_AT_ONCE) {
      await this.letGo();
    }
    for (const table of tables) this.locked.add(table);
    try {
      const union = tables.map((table) => `(${selectFrom(table)})`).join(' UNION ALL ');
      return (await this.client.query<Row>(around(union), values)).rows;
    } catch (error) {
      if ((error as { code?: string }).code !== NO_SUCH_TABLE) throw error;
      await this.letGo();
      // Retention dropped a table since the snapshot was taken: what was in it is history no more.
      const still = await this.existing(tables);
      return this.askNow(still, selectFrom, values, around);
    }
  }

  private async existing(tables: readonly string[]): Promise<string[]> {
    const { rows } = await this.client.query<{ table: string }>(
      'SELECT given AS table FROM unnest($1::text[]) AS given WHERE to_regclass(given) IS NOT NULL',
      [tables],
    );
    return rows.map(({ table }) => table);
  }

  /** Ends the locks that this snapshot holds on tables; it stays the same snapshot. */
  private async letGo(): Promise<void> {
    await this.client.query('ROLLBACK TO SAVEPOINT tables');
    this.locked.clear();
  }
}

/** Months in their order into stretches of at most so many tables. */
function gather(months: readonly Month[], most: number): Stretch[] {
  const stretches: { tables: string[]; from: number; to: number }[] = [];
  for (const { month, part } of months) {
    const table = blockTable(part);
    const last = stretches.at(-1);
    if (last && (last.tables.includes(table) || last.tables.length < most)) {
      if (!last.tables.includes(table)) last.tables.push(table);
      last.to = nextMonth(month);
    } else stretches.push({ tables: [table], from: month, to: nextMonth(month) });
  }
  return stretches;
}
