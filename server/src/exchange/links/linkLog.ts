/** What befell each link, to be read by people: the last thousand of each. */
import type { LinkEvent, LinkStrips } from '@wide-ledger/contract';
import { contactIn, formatInstant, type Span } from '@wide-ledger/core';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { nowMicros } from '../../ground/index.ts';

const KEPT = 1_000;
/** Longer than between two signs of life of a link that is at work. */
const LEFT_ALONE_SECONDS = 60;
/** What changes whether a link has its far end. */
const CONTACT = ['there', 'away', 'paused'];

/** A strip as it is told. */
export function stripOf(id: number, { there, gaps }: ReturnType<typeof contactIn>): LinkStrips['rows'][number] {
  const told = <One extends Span>({ from, to, ...rest }: One) => ({
    ...rest,
    from: formatInstant(from),
    to: formatInstant(to),
  });
  return { id, there: there.map(told), gaps: gaps.map(told) };
}

export class LinkLog {
  constructor(
    private readonly home: Pool,
    private readonly log: Logger,
  ) {}

  /** The database may be what is in trouble: then the server's own log has it. @param what in a word or two. */
  async note(link: number, what: string, sentence: string): Promise<void> {
    this.log.info({ link, what, sentence }, 'a link');
    await this.home
      .query(
        `WITH noted AS (INSERT INTO link_event (link_id, what, sentence) VALUES ($1, $2, $3))
         DELETE FROM link_event WHERE link_id = $1 AND id <=
           (SELECT id FROM link_event WHERE link_id = $1 ORDER BY id DESC OFFSET ${KEPT} LIMIT 1)`,
        [link, what, sentence],
      )
      .catch((error: unknown) => this.log.warn({ error: (error as Error).message }, 'a link’s log is not written'));
  }

  /** A link is at work again: where nobody was for a while, that is written down too. */
  async begins(link: number): Promise<void> {
    await this.home
      .query(
        `INSERT INTO link_event (link_id, at, what, sentence)
         SELECT link_id, contact_at, 'away', 'Nobody carried: the server here was not running.' FROM link_state
         WHERE link_id = $1 AND contact_at < now() - interval '${LEFT_ALONE_SECONDS} s' AND 'there' =
           (SELECT what FROM link_event WHERE link_id = $1 AND what = ANY($2) ORDER BY at DESC, id DESC LIMIT 1)`,
        [link, CONTACT],
      )
      .catch((error: unknown) => this.log.warn({ error: (error as Error).message }, 'a link’s log is not written'));
  }

  /** When each of some links had its far end. */
  async strips(links: readonly number[], window: Span): Promise<LinkStrips['rows']> {
    const { rows } = await this.home.query<{ link_id: number; at: Date; what: string; sentence: string }>(
      `SELECT link_id, at, what, sentence FROM link_event
       WHERE link_id = ANY($1) AND what = ANY($2) AND at < $3 ORDER BY at, id`,
      [links, CONTACT, new Date(window.to / 1000)],
    );
    const now = nowMicros();
    return links.map((id) => {
      const events = rows
        .filter(({ link_id }) => link_id === id)
        .map(({ at, what, sentence }) => ({ at: at.getTime() * 1000, there: what === 'there', sentence }));
      return stripOf(id, contactIn(events, window, now));
    });
  }

  /** The newest first. */
  async of(link: number, limit: number): Promise<LinkEvent[]> {
    const { rows } = await this.home.query<Omit<LinkEvent, 'at'> & { at: Date }>(
      'SELECT id, at, what, sentence FROM link_event WHERE link_id = $1 ORDER BY at DESC, id DESC LIMIT $2',
      [link, limit],
    );
    return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
  }
}
