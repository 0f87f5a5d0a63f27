/** Whose turn it is, source by source, and where what is read of each goes meanwhile. */
import type { LeaseOrder } from '@wide-ledger/contract';
import type { Gathering } from '../gathering/gathering.ts';
import type { SourceNotes } from '../watching/watchBook.ts';
import { Lease, type SharedSource, type LeaseNotes } from './lease.ts';

/** A source as it is read here. */
interface Watched extends SharedSource {
  readonly notes: SourceNotes;
}

type Remembered = SourceNotes & { readonly lease?: LeaseNotes };

export class Leases {
  private readonly bySource = new Map<number, Lease>();

  /** @param shared where what is recorded goes. @param wall the clock, in milliseconds since 1970. */
  constructor(
    private readonly shared: Gathering,
    private readonly wall: () => number,
  ) {}

  /** The lease of a source; a new one goes on from what was remembered. */
  of(source: number, notes: Remembered | null): Lease {
    const counter = (): number => performance.now();
    const micros = (): number => Math.round(this.wall() * 1000);
    const known = this.bySource.get(source) ?? new Lease(this.shared, notes?.lease ?? null, notes, counter, micros);
    this.bySource.set(source, known);
    return known;
  }

  /** Whether another collector reads some of the sources, too. */
  get areShared(): boolean {
    return [...this.bySource.values()].some((lease) => lease.isShared);
  }

  /** The server says whose turn it is. @param askedAt when it was asked, as `performance.now()` tells it */
  told(leases: readonly LeaseOrder[], watched: ReadonlyMap<number, Watched>, askedAt: number): void {
    const orders = new Map(leases.map((order) => [order.source, order]));
    for (const [id, lease] of this.bySource) lease.told(orders.get(id), watched.get(id)!, askedAt);
  }

  /** Hands on what was gathered, where it is this collector's turn. */
  pass(watched: ReadonlyMap<number, Watched>): void {
    for (const [id, lease] of this.bySource) {
      const source = watched.get(id)!;
      lease.pass(source.notes, source);
    }
  }

  /** A source is read no longer. */
  end(id: number, source: Watched): void {
    this.bySource.get(id)?.end(source.notes, source);
    this.bySource.delete(id);
  }

  /** What a restart needs to know of a source. */
  noted<Notes extends SourceNotes>(id: number, notes: Notes): Notes {
    return this.bySource.get(id)?.noted(notes) ?? notes;
  }
}
