/** Sessions of people: rows that can be seen and ended. */
import type { OpenSession, Scope } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import { Remembered } from '../visitors/remembered.ts';
import type { Visitor } from '../visitors/visitor.ts';

const SESSION_HOURS = 12;
/** How often it is noted that a session was used. */
const SEEN_EVERY = '1 minute';
const LONGEST_AGENT = 300;

interface Row {
  readonly id: string;
  readonly name: string;
  readonly scopes: Scope[];
  readonly since: Date;
  readonly seen_at: Date;
  readonly ends_at: Date;
  readonly whence: string;
  readonly agent: string;
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

export class Sessions {
  private readonly remembered = new Remembered((id) => this.look(id));

  constructor(private readonly home: Pool) {}

  /** Opens one. @param agent what the browser calls itself. */
  async open(account: number, whence: string, agent: string): Promise<{ id: string; ends: Date }> {
    await this.home.query('DELETE FROM session WHERE ends_at < now()');
    const { rows } = await this.home.query<{ id: string; ends: Date }>(
      `INSERT INTO session (account_id, whence, agent, ends_at) VALUES ($1, $2, $3, now() + interval '${SESSION_HOURS} hours')
       RETURNING id, ends_at AS ends`,
      [account, whence, agent.slice(0, LONGEST_AGENT).replaceAll('\0', '').toWellFormed()],
    );
    return rows[0]!;
  }

  /** Whose session it is; null where it has ended. */
  visitor(id: string): Promise<Visitor | null> {
    return this.remembered.get(id);
  }

  private async look(id: string): Promise<Visitor | null> {
    if (!UUID.test(id)) return null;
    const { rows } = await this.home.query<Pick<Row, 'name' | 'scopes'>>({
      name: 'session_visitor',
      text: `WITH used AS (UPDATE session SET seen_at = now() WHERE id = $1 AND seen_at < now() - interval '${SEEN_EVERY}')
             SELECT a.name, a.scopes FROM session s JOIN account a ON a.id = s.account_id WHERE s.id = $1 AND s.ends_at > now()`,
      values: [id],
    });
    const [row] = rows;
    return row ? { ...row, pass: { kind: 'session', id } } : null;
  }

  /** Those that are open, the latest first. @param own the id of the one that asks. */
  async list(own: string | null): Promise<OpenSession[]> {
    const { rows } = await this.home.query<Row>(
      'SELECT s.*, a.name FROM session s JOIN account a ON a.id = s.account_id WHERE ends_at > now() ORDER BY since DESC LIMIT 1000',
    );
    return rows.map(({ id, name, since, seen_at, ends_at, whence, agent }) => ({
      id,
      name,
      since: since.toISOString(),
      seen: seen_at.toISOString(),
      ends: ends_at.toISOString(),
      whence,
      agent,
      own: id === own,
    }));
  }

  /** Ends one, at once. @returns whose it was; null where there is none. */
  async end(id: string): Promise<string | null> {
    if (!UUID.test(id)) return null;
    const { rows } = await this.home.query<{ name: string }>(
      'DELETE FROM session s USING account a WHERE s.id = $1 AND a.id = s.account_id RETURNING a.name',
      [id],
    );
    this.remembered.forgetAll();
    return rows[0]?.name ?? null;
  }
}
