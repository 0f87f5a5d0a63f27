/** Links that arrive here: who was invited, who joined, what each has brought so far. */
import {
  siteAccount,
  type ArrivingLink,
  type CarriedStretch,
  type CarryPosition,
  type Invitation,
  type Joined,
  type LinkStrips,
  type SiteAccount,
  type SiteCard,
} from '@wide-ledger/contract';
import { contactIn, type Span } from '@wide-ledger/core';
import { createHash, randomBytes } from 'node:crypto';
import type { Pool } from 'pg';
import { SILENT_SECONDS } from '../../archive/index.ts';
import { ProblemError, badRequest, freeBytes as roomFor, inTransaction, nowMicros } from '../../ground/index.ts';
import type { Keys, Visitor } from '../../people/index.ts';
import { stripOf } from '../links/linkLog.ts';

export interface Arrival {
  readonly id: number;
  readonly name: string;
  /** The identity of the site that joined. */
  readonly site: string;
  readonly site_name: string;
  readonly epoch: number;
  readonly position: number;
  readonly print: string;
}

interface Row extends Omit<Arrival, 'site' | 'site_name'> {
  readonly site: string | null;
  readonly site_name: string | null;
  readonly site_version: string | null;
  readonly invited_by: string;
  readonly invited_at: Date;
  readonly code_ends: Date | null;
  readonly valid: boolean;
  readonly tags: number;
  readonly account: unknown;
  readonly samples: number;
  readonly bytes: number;
  readonly set_aside: number;
  readonly contact_at: Date | null;
  readonly samples_at: Date | null;
}

const HOUR = 3_600_000;
const SILENT_MILLISECONDS = SILENT_SECONDS * 1000;

const hashOf = (code: string): string => createHash('sha256').update(code).digest('hex');

export class Arrivals {
  constructor(
    private readonly home: Pool,
    private readonly keys: Keys,
    /** This site, as it says who it is. */
    readonly card: SiteCard,
    private readonly dataFolder: string,
  ) {}

  /**
   * Invites a site, or lets one that had joined by this name join anew, such as after its key was revoked.
   * @returns the code, which is not kept.
   */
  async invite(name: string, hours: number, by: string): Promise<Invitation> {
    const code = `wli_${randomBytes(24).toString('base64url')}`;
    const ends = new Date(Date.now() + hours * HOUR);
    const { rows } = await this.home.query<{ id: number }>(
      `INSERT INTO arrival (name, invited_by, code_hash, code_ends) VALUES ($1, $2, $3, $4)
       ON CONFLICT (name) DO UPDATE SET invited_by = excluded.invited_by, invited_at = now(),
         code_hash = excluded.code_hash, code_ends = excluded.code_ends RETURNING id`,
      [name, by, hashOf(code), ends],
    );
    return { id: rows[0]!.id, code, ends: ends.toISOString() };
  }

  /** A code becomes a key, once. @throws ProblemError 403 where it is none, or has been used, or belongs to another site. */
  async join(code: string, site: SiteCard): Promise<Joined> {
    const joined = await inTransaction(this.home, async (client) => {
      const { rows } = await client.query<{
        id: number;
        name: string;
        site: string | null;
        site_name: string | null;
        key_id: number | null;
      }>(
        'SELECT id, name, site, site_name, key_id FROM arrival WHERE code_hash = $1 AND code_ends > now() FOR UPDATE',
        [hashOf(code)],
      );
      const [arrival] = rows;
      if (!arrival)
        throw new ProblemError(
          403,
          'Not invited',
          'This code is not known here, was used already, or has ended. Ask for another one.',
        );
      if (site.identity === this.card.identity)
        throw badRequest('This is the site itself: a link leads to another one.');
      if (arrival.site !== null && arrival.site !== site.identity)
        throw new ProblemError(
          403,
          'Not invited',
          `The link ${arrival.name} is that of another site (${arrival.site_name}), whose history it holds. Ask for an invitation by another name.`,
        );
      await client.query(
        `UPDATE arrival SET code_hash = NULL, code_ends = NULL, site = $2, site_name = $3, site_version = $4,
           joined_at = coalesce(joined_at, now()), contact_at = now() WHERE id = $1`,
        [arrival.id, site.identity, site.name, site.version],
      );
      return arrival;
    });
    const made = await this.keys.make({
      name: `link ${joined.name}`,
      scopes: ['carry'],
      ends: null,
      collector: null,
      by: `link ${joined.name}`,
    });
    await this.home.query('UPDATE arrival SET key_id = $2 WHERE id = $1', [joined.id, made.id]);
    if (joined.key_id !== null) await this.keys.revoke(joined.key_id);
    return { key: made.key, name: joined.name, site: this.card };
  }

  /** The link that a visitor speaks for. @throws ProblemError 403 */
  async of({ pass, name }: Visitor): Promise<Arrival> {
    if (pass.kind === 'key') {
      const { rows } = await this.home.query<Arrival>({
        name: 'arrival_of_key',
        text: 'SELECT id, name, site, site_name, epoch, position, print FROM arrival WHERE key_id = $1 AND site IS NOT NULL',
        values: [pass.id],
      });
      if (rows[0]) return rows[0];
    }
    throw new ProblemError(403, 'Not allowed', `Only the key of a link carries; ${name} belongs to none.`);
  }

  async position({ id, epoch, position, print }: Arrival): Promise<CarryPosition> {
    const { rows } = await this.home.query<{ last: number; months: number | null; samples_at: Date | null }>(
      `WITH heard AS (UPDATE arrival SET contact_at = now() WHERE id = $1)
       SELECT coalesce(max(number), 0) AS last, (SELECT retention_months FROM store WHERE id = 1) AS months,
         (SELECT samples_at FROM arrival WHERE id = $1) AS samples_at
       FROM arriving_tag WHERE arrival_id = $1`,
      [id],
    );
    const { last: lastNumber, months: retentionMonths, samples_at } = rows[0]!;
    const samplesAt = samples_at?.toISOString() ?? null;
    const freeBytes = await roomFor(this.dataFolder);
    const now = new Date().toISOString();
    return { site: this.card, epoch, position, print, lastNumber, now, freeBytes, retentionMonths, samplesAt };
  }

  /** Takes down how the site at the other end is. */
  async hear({ id }: Arrival, account: SiteAccount): Promise<void> {
    await this.home.query('UPDATE arrival SET account = $2, contact_at = now() WHERE id = $1', [id, account]);
  }

  /** The zones of the sites that bring something. */
  async zones(): Promise<string[]> {
    const { rows } = await this.home.query<{ zone: string }>(
      "SELECT DISTINCT account->>'zone' AS zone FROM arrival WHERE account IS NOT NULL ORDER BY 1",
    );
    return rows.map(({ zone }) => zone);
  }

  /** Sites that had joined, whose keys are good, and of which nothing is heard. */
  async troubles(): Promise<{ readonly name: string; readonly sentence: string }[]> {
    const { rows } = await this.home.query<{ name: string; site_name: string }>(
      `SELECT a.name, a.site_name FROM arrival a JOIN access_key k ON k.id = a.key_id AND k.revoked_at IS NULL
       WHERE a.contact_at < now() - interval '${SILENT_MILLISECONDS} milliseconds' ORDER BY a.name`,
    );
    return rows.map(({ name, site_name }) => ({ name, sentence: `Nothing is heard of ${site_name} any more.` }));
  }

  /** When something was heard of each that was joined. */
  async strips(window: Span): Promise<LinkStrips['arriving']> {
    const { rows } = await this.home.query<{
      id: number;
      joined: number;
      contact: number;
      since: number[];
      until: number[];
    }>(
      `SELECT a.id, (extract(epoch FROM a.joined_at) * 1000000)::bigint AS joined, (extract(epoch FROM a.contact_at) * 1000000)::bigint AS contact,
         coalesce(array_agg((extract(epoch FROM s.since) * 1000000)::float8 ORDER BY s.since) FILTER (WHERE s.since IS NOT NULL), '{}') AS since,
         coalesce(array_agg((extract(epoch FROM s.until) * 1000000)::float8 ORDER BY s.since) FILTER (WHERE s.since IS NOT NULL), '{}') AS until
       FROM arrival a LEFT JOIN arrival_silence s ON s.arrival_id = a.id AND s.until > to_timestamp($1 / 1e6) AND s.since < to_timestamp($2 / 1e6)
       WHERE a.joined_at IS NOT NULL AND a.contact_at IS NOT NULL GROUP BY a.id ORDER BY a.name`,
      [window.from, window.to],
    );
    const now = nowMicros();
    return rows.map(({ id, joined, contact, since, until }) => {
      const event = (at: number, there: boolean) => ({ at, there, sentence: 'Nothing was heard of it.' });
      const over = since.flatMap((at, i) => [event(at, false), event(until[i]!, true)]);
      const still = now - contact > SILENT_MILLISECONDS * 1000 ? [event(contact, false)] : [];
      return stripOf(id, contactIn([event(joined, true), ...over, ...still], window, now));
    });
  }

  /** All of them, with how they stand. */
  async list(): Promise<ArrivingLink[]> {
    const { rows } = await this.home.query<Row>(
      `SELECT a.*, k.id IS NOT NULL AS valid, (SELECT count(*)::int FROM arriving_tag t WHERE t.arrival_id = a.id) AS tags
       FROM arrival a LEFT JOIN access_key k ON k.id = a.key_id AND k.revoked_at IS NULL ORDER BY a.name`,
    );
    return rows.map((row) => ({
      id: row.id,
      name: row.name,
      site: row.site === null ? null : { identity: row.site, name: row.site_name!, version: row.site_version! },
      invited: { by: row.invited_by, at: row.invited_at.toISOString(), ends: row.code_ends?.toISOString() ?? null },
      state: stateOf(row),
      namesakes: rows
        .filter((other) => other.id !== row.id && other.site !== null && other.site_name === row.site_name)
        .filter((other) => other.site !== row.site)
        .map((other) => other.name),
      tags: row.tags,
      account: siteAccount.safeParse(row.account).data ?? null,
      samples: row.samples,
      bytes: row.bytes,
      setAside: row.set_aside,
      contactAt: row.contact_at?.toISOString() ?? null,
      samplesAt: row.samples_at?.toISOString() ?? null,
    }));
  }
}

function stateOf({ site, valid, samples, contact_at }: Row): ArrivingLink['state'] {
  if (site === null) return 'invited';
  if (!valid) return 'revoked';
  if (contact_at === null || Date.now() - contact_at.getTime() > SILENT_MILLISECONDS) return 'silent';
  return samples === 0 ? 'never sent anything' : 'arriving';
}

/** Whether a stretch goes on where an arrival stands; a journal that began another life begins where it says. */
export const goesOn = ({ epoch, position }: Arrival, stretch: CarriedStretch): boolean =>
  stretch.epoch === epoch ? stretch.after === position : stretch.epoch === epoch + 1;
