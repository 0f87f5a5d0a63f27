/**
 * What a link has still to carry: the far end was not offered it yet, so that nothing follows from its not being there.
 * Whatever waited at any moment of a comparison counts as waiting until its end.
 */
import { decodeFrame, selectSamples, type Frame, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { LinkRow } from '../../configuration/index.ts';
import { frontierOf } from './stretch.ts';

const ENTRIES_AT_ONCE = 500;
/** More are not held in memory. */
const MOST_WAITING = 2_000_000;

export class Waiting {
  private readonly times = new Map<number, Set<number>>();
  /** Up to which entry of the journal all is known; null: where the far end stands is not known yet. */
  private seen: number | null = null;
  private count = 0;

  /** @param window beyond which nothing is compared. */
  constructor(
    private readonly home: Pool,
    private readonly link: Pick<LinkRow, 'id' | 'name'>,
    private readonly window: Span,
  ) {}

  /** Where the far end stands: from here on nothing that is carried meanwhile counts as carried. */
  async begin(): Promise<void> {
    const { rows } = await this.home.query<{ position: number | null }>(
      'SELECT position FROM link_state WHERE link_id = $1',
      [this.link.id],
    );
    this.seen = rows[0]?.position ?? 0;
  }

  /**
   * Takes in what was written since. Called after this end was read: what stood in it was written by then.
   * @throws Error where too much waits
   */
  async lookOn(): Promise<void> {
    if (this.seen === null) await this.begin();
    const frontier = await frontierOf(this.home);
    for (let more = true; more;) {
      const { rows } = await this.home.query<{ id: number; frame: Buffer | null }>(
        `SELECT id, frame FROM journal_entry WHERE id > $1 AND frame IS NOT NULL ORDER BY id LIMIT ${ENTRIES_AT_ONCE}`,
        [this.seen],
      );
      for (const { id, frame } of rows) {
        if (frame) this.take(decodeFrame(frame));
        // Behind the frontier others may still be committed before it: it is read again the next time.
        if (id <= frontier) this.seen = id;
      }
      more = rows.length === ENTRIES_AT_ONCE && rows.at(-1)!.id <= frontier;
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
        `More than ${MOST_WAITING / 1e6} million values of this window wait to be carried by ${this.link.name}. Compare a narrower window, or once they are there.`,
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
