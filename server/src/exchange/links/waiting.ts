/**
 * What a link has still to carry: the far end was not offered it yet, so that nothing follows from its not being there.
 * Whatever waited at any moment of a comparison counts as waiting until its end.
 */
import { decodeFrame, selectSamples, type Frame, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { LinkRow } from '../../configuration/index.ts';
import { mendingWriter } from './mending.ts';
import { frontierOf } from './stretch.ts';

const ENTRIES_AT_ONCE = 500;
/** More are not held in memory. */
const MOST_WAITING = 2_000_000;

export class Waiting {
  private readonly times = new Map<number, Set<number>>();
  private count = 0;
  /** One look after the other: of several at once each would read the same. */
  private looking: Promise<void> = Promise.resolve();

  /** @param seen up to which entry of the journal all is known: where the far end stands, to begin with */
  private constructor(
    private readonly home: Pool,
    private readonly link: Pick<LinkRow, 'id' | 'name'>,
    private readonly window: Span,
    private seen: number,
  ) {}

  /** From here on nothing that is carried meanwhile counts as carried. @param window beyond which nothing is compared */
  static async begin(home: Pool, link: Pick<LinkRow, 'id' | 'name'>, window: Span): Promise<Waiting> {
    const { rows } = await home.query<{ position: number | null }>(
      'SELECT position FROM link_state WHERE link_id = $1',
      [link.id],
    );
    return new Waiting(home, link, window, rows[0]?.position ?? 0);
  }

  /**
   * Takes in what was written since, but for what a mend wrote: the far end has that. Called after this end was read: what
   * stood in it was written by then.
   * @throws Error where too much waits
   */
  lookOn(): Promise<void> {
    this.looking = this.looking.then(() => this.look());
    return this.looking;
  }

  private async look(): Promise<void> {
    const frontier = await frontierOf(this.home);
    for (let at = this.seen, more = true; more;) {
      const { rows } = await this.home.query<{ id: number; writer: string; frame: Buffer }>(
        `SELECT id, writer, frame FROM journal_entry WHERE id > $1 AND frame IS NOT NULL ORDER BY id LIMIT ${ENTRIES_AT_ONCE}`,
        [at],
      );
      for (const { id, writer, frame } of rows) {
        if (writer !== mendingWriter(this.link)) this.take(decodeFrame(frame));
        at = id;
      }
      more = rows.length === ENTRIES_AT_ONCE;
      // Behind the frontier others may still be committed before what was read: it is read again the next time.
      this.seen = Math.max(this.seen, Math.min(at, frontier));
    }
  }

  private take({ tags, times }: Frame): void {
    for (let i = 0; i < times.length; i++) {
      const time = times[i]!;
      if (time < this.window.from || time >= this.window.to) continue;
      const known = this.times.get(tags![i]!);
      const own = known ?? new Set<number>();
      if (!known) this.times.set(tags![i]!, own);
      if (own.has(time)) continue;
      own.add(time);
      this.count++;
    }
    if (this.count > MOST_WAITING)
      throw new Error(
        `More than ${MOST_WAITING / 1e6} million values of this window wait to be carried by ${this.link.name}. Choose a narrower window, or compare once they have been carried.`,
      );
  }

  /** What stands of a tag, by its number here, without what waits. */
  without(frame: Frame, tag: number): Frame {
    const own = this.times.get(tag);
    return own ? selectSamples(frame, (i) => !own.has(frame.times[i]!)) : frame;
  }

  /** How many of these wait. */
  among({ times }: Frame, tag: number): number {
    const own = this.times.get(tag);
    return own ? times.reduce((sum, time) => sum + Number(own.has(time)), 0) : 0;
  }
}
