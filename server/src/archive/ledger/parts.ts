/**
 * Which table holds a tag's month. A month that holds much, or is the present, has one of its own, so that retention
 * drops it whole; the months that hold little share `ledger_block_rest`: history of a hundred years is not a thousand
 * tables.
 */
import { monthStart, nextMonth } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';
import { LOCKS } from '../../ground/index.ts';
import { changeLayout } from './mark.ts';

/** So many samples at once make a month one that holds much. */
const DENSE_MONTH_SAMPLES = 20_000;
/** Months kept in mind; beyond, they are looked up again. */
const MOST_KNOWN = 500_000;
/** Key of the advisory lock that keeps a month from being gathered while blocks are written to the shared table without the mark. */
const GATHERING = 3;
export const REST = 'rest';

/** A tag's samples to come in one UTC month, which begins at this microsecond. */
export interface TagMonth {
  readonly tag: number;
  readonly month: number;
  readonly samples: number;
}

const keyOf = (tag: number, month: number): string => `${tag} ${month}`;

/** The table of a part. Parts are made here and in SQL only: `rest`, or YYYYMM. */
export const blockTable = (part: string): string => `ledger_block_${part}`;

/** Where a store keeps tags' months, as far as it is known to one who posts there or moves a tag there. */
export class LedgerParts {
  private readonly known = new Map<string, string>();
  private layout: number | null = null;

  /** @param store the store's database: tables are made there on a connection of its own, outside any transaction. */
  constructor(
    private readonly store: () => Promise<Pool>,
    private readonly now: () => number = () => Date.now() * 1000,
  ) {}

  /** The part that holds a tag's month, after {@link settle}. */
  of(tag: number, time: number): string {
    const part = this.known.get(keyOf(tag, monthStart(time)));
    if (part === undefined) throw new Error(`It was not settled where the month of tag ${tag} is kept.`);
    return part;
  }

  /** After a rollback, or when a table was dropped: everything is looked up again. */
  forget(): void {
    this.known.clear();
  }

  /** What is remembered holds while the store's layout is this one; the mark says which it is. */
  trustUntil(layout: number): void {
    if (layout !== this.layout) this.forget();
    this.layout = layout;
  }

  /**
   * Looks up where tags' months are, and decides for those that are new.
   * @param gather whether a month that gets a table takes over what the shared one holds of it: only for whoever holds
   * the store's mark. Without it nobody gathers until the end of the transaction, and what is remembered is good until
   * then.
   */
  async settle(client: PoolClient, wanted: readonly TagMonth[], { gather }: { gather: boolean }): Promise<void> {
    if (!gather) await client.query('SELECT pg_advisory_xact_lock_shared($1, $2)', [LOCKS, GATHERING]);
    if (this.known.size > MOST_KNOWN) this.forget();
    await this.lookUp(client, this.unknownAmong(wanted));
    const fresh = this.unknownAmong(wanted);
    if (fresh.length === 0) return;
    const byMonth = new Map<number, number>();
    for (const { month, samples } of fresh) byMonth.set(month, (byMonth.get(month) ?? 0) + samples);
    const parts = new Map<number, string>();
    const tables = await this.monthsWithTables(client, [...byMonth.keys()]);
    for (const [month, samples] of byMonth) {
      const own = tables.get(month);
      if (own !== undefined) parts.set(month, own);
      else if (samples >= DENSE_MONTH_SAMPLES || this.isPresent(month))
        parts.set(month, await this.makeOwn(client, month, gather));
      else parts.set(month, REST);
    }
    for (const { tag, month } of fresh) this.known.set(keyOf(tag, month), parts.get(month)!);
    await client.query(
      // Of a month that nobody posted to, the tally is known from its first sample on.
      `INSERT INTO ledger_month (tag_id, month, part, counted) SELECT *, $4::boolean FROM unnest($1::int[], $2::bigint[], $3::text[])
         ON CONFLICT (tag_id, month) DO UPDATE SET part = excluded.part, counted = false`,
      [
        fresh.map(({ tag }) => tag),
        fresh.map(({ month }) => month),
        fresh.map(({ month }) => parts.get(month)!),
        gather,
      ],
    );
    // A month that was gathered made everything forgotten, also what this very batch had known before.
    await this.lookUp(client, this.unknownAmong(wanted));
  }

  private unknownAmong(wanted: readonly TagMonth[]): TagMonth[] {
    return wanted.filter(({ tag, month }) => !this.known.has(keyOf(tag, month)));
  }

  /** The running month, the one before, and what is to come. */
  private isPresent(month: number): boolean {
    return month >= monthStart(monthStart(this.now()) - 1);
  }

  private async lookUp(client: PoolClient, wanted: readonly TagMonth[]): Promise<void> {
    if (wanted.length === 0) return;
    const { rows } = await client.query<{ tag_id: number; month: number; part: string }>(
      `SELECT m.* FROM unnest($1::int[], $2::bigint[]) AS wanted(tag, month)
         JOIN ledger_month m ON m.tag_id = wanted.tag AND m.month = wanted.month
       WHERE to_regclass('ledger_block_' || m.part) IS NOT NULL`,
      [wanted.map(({ tag }) => tag), wanted.map(({ month }) => month)],
    );
    for (const { tag_id, month, part } of rows) this.known.set(keyOf(tag_id, month), part);
  }

  private async monthsWithTables(client: PoolClient, months: readonly number[]): Promise<Map<number, string>> {
    const { rows } = await client.query<{ month: number; part: string }>(
      `SELECT month, part FROM unnest($1::bigint[]) AS month,
         to_char(timestamp 'epoch' + month * interval '1 microsecond', 'YYYYMM') AS part
       WHERE to_regclass('ledger_block_' || part) IS NOT NULL`,
      [months],
    );
    return new Map(rows.map(({ month, part }) => [month, part]));
  }

  /** Makes a month's own table. */
  private async makeOwn(client: PoolClient, month: number, gather: boolean): Promise<string> {
    const { rows } = await (
      await this.store()
    ).query<{ part: string }>('SELECT ensure_ledger_month($1) AS part', [month]);
    const { part } = rows[0]!;
    if (!gather) return part;
    await client.query('SELECT pg_advisory_xact_lock($1, $2)', [LOCKS, GATHERING]);
    await client.query(
      `WITH moved AS (DELETE FROM ledger_block_rest WHERE first_time >= $1 AND first_time < $2 RETURNING *)
         INSERT INTO ${blockTable(part)} SELECT * FROM moved`,
      [month, nextMonth(month)],
    );
    await client.query('UPDATE ledger_month SET part = $2 WHERE month = $1 AND part = $3', [month, part, REST]);
    await changeLayout(client);
    this.forget();
    return part;
  }
}

/** The parts that hold something of a tag. */
export async function partsOfTag(store: Pool | PoolClient, tag: number): Promise<string[]> {
  const { rows } = await store.query<{ part: string }>('SELECT DISTINCT part FROM ledger_month WHERE tag_id = $1', [
    tag,
  ]);
  return rows.map(({ part }) => part);
}
