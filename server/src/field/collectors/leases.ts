/**
 * Whose turn it is to record a source that several collectors read. The lease stays where it is as long as its holder is
 * there and watches; else it goes to one that does, along with the moment up to which the source was watched.
 */
import type { CollectorReport, LeaseOrder } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import { inTransaction } from '../../ground/index.ts';
import type { Collectors, Reading } from './collectors.ts';

interface Lease {
  readonly holder: string;
  readonly epoch: number;
  readonly from: number | null;
}

interface LeaseRow {
  readonly source_id: number;
  readonly holder: string;
  readonly epoch: number;
  readonly since: number | null;
}

/** After a start of the server its collectors need a moment to report: until then nobody is taken for gone. Milliseconds. */
const SETTLING = 10_000;

/** A holder that reads fewer tags than another one has this long to become better. Milliseconds. */
const STEADY = 10_000;

export class Leases {
  private readonly startedAt: number;
  /** By source: since when its holder has been worse than another one. */
  private readonly worseSince = new Map<number, number>();
  private deciding: Promise<unknown> = Promise.resolve();

  /** @param now milliseconds since 1970. */
  constructor(
    private readonly home: Pool,
    private readonly collectors: Collectors,
    private readonly now: () => number = Date.now,
  ) {
    this.startedAt = now();
  }

  /** Whose turn it is of the sources that a collector reports, as far as others read them, too, or once did. */
  ordersFor({ name, sources }: CollectorReport): Promise<LeaseOrder[]> {
    // One after the other: two that report at once are not both to be given the same.
    const decided = this.deciding.then(() =>
      this.decide(
        name,
        sources.map(({ source }) => source),
      ),
    );
    this.deciding = decided.catch(() => undefined);
    return decided;
  }

  private async decide(asking: string, sources: readonly number[]): Promise<LeaseOrder[]> {
    const { rows } = await this.home.query<LeaseRow>(
      'SELECT source_id, holder, epoch, since FROM source_lease WHERE source_id = ANY($1)',
      [sources],
    );
    const known = new Map(
      rows.map(({ source_id, holder, epoch, since }) => [source_id, { holder, epoch, from: since }]),
    );
    const orders: LeaseOrder[] = [];
    for (const source of sources) {
      const readings = this.collectors.readingsOf(source);
      const before = known.get(source) ?? null;
      if (before === null && readings.length < 2) continue;
      const lease = await this.leaseOf(source, before, readings);
      this.collectors.holders.set(source, lease.holder);
      const { holder, epoch, from } = lease;
      const ready = readings.some((one) => one.collector !== asking && isWatching(one));
      orders.push({ source, holds: holder === asking, epoch, from, ready });
    }
    return orders;
  }

  private async leaseOf(source: number, before: Lease | null, readings: readonly Reading[]): Promise<Lease> {
    const holder = readings.find(({ collector }) => collector === before?.holder);
    // Who can read more of its tags is the better one; of equals, who was heard of first.
    const watching = readings.filter(isWatching).sort((a, b) => a.faultyTags - b.faultyTags);
    if (before !== null) {
      const settled = this.now() - this.startedAt >= SETTLING;
      if (watching.length === 0 || (!holder?.present && !settled)) return before;
      if (holder && isWatching(holder) && !this.isLongWorse(source, holder, watching[0]!)) return before;
    }
    const next = watching[0] ?? readings[0]!;
    const lease: Lease = {
      holder: next.collector,
      epoch: (before?.epoch ?? 0) + 1,
      from: before === null ? null : await this.watchedUntil(source),
    };
    await inTransaction(this.home, async (client) => {
      await client.query(
        `INSERT INTO source_lease AS known (source_id, holder, epoch, since) VALUES ($1, $2, $3, $4)
           ON CONFLICT (source_id) DO UPDATE SET holder = $2, epoch = $3, since = $4, taken_at = now() WHERE known.epoch < $3`,
        [source, lease.holder, lease.epoch, lease.from],
      );
      // What the old holder could not read ends here; the new one tells anew what it cannot.
      await client.query('UPDATE outage SET until = greatest(since, $2) WHERE source_id = $1 AND until IS NULL', [
        source,
        lease.from ?? this.now() * 1000,
      ]);
    });
    this.worseSince.delete(source);
    return lease;
  }

  /** Whether another one has for a while been able to read more tags of a source than its holder. */
  private isLongWorse(source: number, holder: Reading, best: Reading): boolean {
    if (best.faultyTags >= holder.faultyTags) {
      this.worseSince.delete(source);
      return false;
    }
    const since = this.worseSince.get(source) ?? this.now();
    this.worseSince.set(source, since);
    return this.now() - since >= STEADY;
  }

  private async watchedUntil(source: number): Promise<number | null> {
    const { rows } = await this.home.query<{ until: number | null }>(
      'SELECT max(until) AS until FROM watch WHERE source_id = $1',
      [source],
    );
    return rows[0]!.until;
  }
}

const isWatching = ({ present, state }: Reading): boolean => present && state === 'watching';
