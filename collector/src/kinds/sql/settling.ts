/**
 * Which of the rows that were read may still get others before them: a row gets its number before its transaction is
 * committed, so that a lower number may be seen after a higher one. All that a transaction wrote which was open when rows
 * were read is visible once the database's oldest open transaction is a later one (PostgreSQL, "System Information
 * Functions", `pg_snapshot_xmin` and `pg_snapshot_xmax`). Pure.
 */

/** So many rows are remembered while a transaction is open. */
export const MOST_UNSETTLED = 100_000;

/** What a database says of its transactions at an instant. */
export interface Snapshot {
  /** The oldest one that is open. */
  readonly xmin: bigint;
  /** The first one that has not begun. */
  readonly xmax: bigint;
}

interface Batch {
  /** Of its last row. */
  place: string;
  /** The first transaction that began after it was read; null: that is not known yet. */
  xmax: bigint | null;
  readonly rows: Set<string>;
  count: number;
}

/** @param open numbers of open transactions, in 32 bits, as they are near the snapshot's upper bound. */
export function snapshotOf(xmin: bigint, xmax: bigint, open: readonly bigint[]): Snapshot {
  const near = open.map((number) => xmax + BigInt.asIntN(32, number - xmax));
  return { xmin, xmax: near.reduce((most, number) => (number >= most ? number + 1n : most), xmax) };
}

export class Settling {
  private batches: Batch[] = [];

  /** @param settled the place up to which no row can come any more; null: the table's beginning */
  constructor(public settled: string | null) {}

  /** Rows were read, in the order of their places. @param rows what tells each from all others */
  note(place: string, rows: readonly string[]): void {
    let last = this.batches.at(-1);
    if (last?.xmax !== null) this.batches.push((last = { place, xmax: null, rows: new Set(), count: 0 }));
    last.place = place;
    for (const row of rows) last.rows.add(row);
    last.count += rows.length;
  }

  /** Rows that were committed late: they count as read. */
  noteLate(rows: readonly string[]): void {
    const last = this.batches.at(-1)!;
    for (const row of rows) last.rows.add(row);
    last.count += rows.length;
  }

  /** The last rows that were read were read before this. */
  close({ xmax }: Snapshot): void {
    const last = this.batches.at(-1);
    if (last) last.xmax ??= xmax;
  }

  get rows(): number {
    return this.batches.reduce((sum, { count }) => sum + count, 0);
  }

  /** Up to where rows may have come since, and how many were seen by then; null where there is nothing to look for. */
  get doubtful(): { readonly to: string; readonly seen: number } | null {
    const closed = this.batches.filter(({ xmax }) => xmax !== null);
    if (closed.length === 0) return null;
    return { to: closed.at(-1)!.place, seen: closed.reduce((sum, { count }) => sum + count, 0) };
  }

  wasSeen(row: string): boolean {
    return this.batches.some(({ rows }) => rows.has(row));
  }

  /** What was doubtful was looked at again after this. */
  settle({ xmin }: Snapshot): void {
    while (this.batches[0]?.xmax != null && this.batches[0].xmax <= xmin) this.settled = this.batches.shift()!.place;
  }

  /** No more is waited for. */
  giveUp(): void {
    this.settled = this.batches.at(-1)?.place ?? this.settled;
    this.batches = [];
  }
}
