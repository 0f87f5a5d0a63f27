/** Keys of programs: kept as their hashes, with their last use, until they end or are revoked. */
import type { KnownKey, Scope } from '@wide-ledger/contract';
import type { Pool } from 'pg';
import { LOCKS, ProblemError, inTransaction } from '../../ground/index.ts';
import { hashKey, makeKey } from '../accounts/passwords.ts';
import { Remembered } from '../visitors/remembered.ts';
import type { Visitor } from '../visitors/visitor.ts';

/** How often it is noted that a key was used. */
const USED_EVERY = '1 minute';

interface Row {
  readonly id: number;
  readonly name: string;
  readonly scopes: Scope[];
  readonly created_by: string;
  readonly created_at: Date;
  readonly last_used_at: Date | null;
  readonly last_used_from: string | null;
  readonly ends_at: Date | null;
  readonly collector: string | null;
}

export interface NewKey {
  readonly name: string;
  readonly scopes: readonly Scope[];
  readonly ends: Date | null;
  readonly collector: string | null;
  readonly by: string;
}

const VALID = 'revoked_at IS NULL AND (ends_at IS NULL OR ends_at > now())';
/** Key of the advisory lock under which a key is given to a collector: of two keys that ask for one, one gets it. */
const CLAIMING = 6;

export class Keys {
  private readonly remembered = new Remembered((key) => this.look(key));

  constructor(private readonly home: Pool) {}

  /** Makes one. @returns the key itself, which is not kept. */
  async make({ name, scopes, ends, collector, by }: NewKey): Promise<{ id: number; key: string }> {
    const key = makeKey();
    const { rows } = await this.home.query<{ id: number }>(
      'INSERT INTO access_key (name, scopes, key_hash, created_by, ends_at, collector) VALUES ($1, $2, $3, $4, $5, $6) RETURNING id',
      [name, scopes, hashKey(key), by, ends, collector],
    );
    return { id: rows[0]!.id, key };
  }

  /** Whose key it is; null where there is none, or it has ended. @param from the address that it is used from. */
  async visitor(keyHash: string, from: string): Promise<Visitor | null> {
    return this.remembered.get(`${keyHash} ${from}`);
  }

  private async look(used: string): Promise<Visitor | null> {
    const [keyHash, from] = used.split(' ');
    const { rows } = await this.home.query<Pick<Row, 'id' | 'name' | 'scopes' | 'collector'>>({
      name: 'key_visitor',
      text: `WITH used AS (UPDATE access_key SET last_used_at = now(), last_used_from = $2 WHERE key_hash = $1
               AND (last_used_at IS NULL OR last_used_at < now() - interval '${USED_EVERY}'))
             SELECT id, name, scopes, collector FROM access_key WHERE key_hash = $1 AND ${VALID}`,
      values: [keyHash, from],
    });
    const [row] = rows;
    if (!row) return null;
    return { name: `key ${row.name}`, scopes: row.scopes, pass: { kind: 'key', id: row.id, collector: row.collector } };
  }

  async list(): Promise<KnownKey[]> {
    const { rows } = await this.home.query<Row>(
      'SELECT * FROM access_key WHERE revoked_at IS NULL ORDER BY created_at DESC LIMIT 1000',
    );
    return rows.map((row) => ({
      id: row.id,
      name: row.name,
      scopes: row.scopes,
      by: row.created_by,
      made: row.created_at.toISOString(),
      lastUse: row.last_used_at?.toISOString() ?? null,
      lastFrom: row.last_used_from,
      ends: row.ends_at?.toISOString() ?? null,
      collector: row.collector,
    }));
  }

  /** Revokes one, at once. @returns its name; null where there is none. */
  async revoke(id: number): Promise<string | null> {
    const { rows } = await this.home.query<{ name: string }>(
      'UPDATE access_key SET revoked_at = now() WHERE id = $1 AND revoked_at IS NULL RETURNING name',
      [id],
    );
    this.remembered.forgetAll();
    return rows[0]?.name ?? null;
  }

  /**
   * Sees that whoever speaks as a collector may: a key belongs to one collector, the first that it was used for where
   * none was given with it, and no two keys belong to one collector by that. Who may administer may speak as any.
   * @throws ProblemError 403
   */
  async speakAs({ name, scopes, pass }: Visitor, collector: string): Promise<void> {
    if (pass.kind === 'session' || scopes.includes('admin') || pass.collector === collector) return;
    const belongs = pass.collector ?? (await this.claim(pass.id, collector));
    if (belongs === collector) return;
    throw new ProblemError(
      403,
      'Not allowed',
      belongs === null
        ? `The collector ${collector} has another key. Make one for it, with its name, or use that of another collector.`
        : `The ${name} belongs to the collector ${belongs}, and cannot speak as ${collector}.`,
    );
  }

  /** Gives a key to a collector that has none. @returns whom it belongs to now; null where another key has that collector. */
  private async claim(id: number, collector: string): Promise<string | null> {
    const belongs = await inTransaction(this.home, async (client) => {
      await client.query('SELECT pg_advisory_xact_lock($1, $2)', [LOCKS, CLAIMING]);
      await client.query(
        `UPDATE access_key SET collector = $2 WHERE id = $1 AND collector IS NULL
           AND NOT EXISTS (SELECT FROM access_key WHERE collector = $2 AND ${VALID})`,
        [id, collector],
      );
      const { rows } = await client.query<{ collector: string | null }>(
        'SELECT collector FROM access_key WHERE id = $1',
        [id],
      );
      return rows[0]?.collector ?? null;
    });
    this.remembered.forgetAll();
    return belongs;
  }
}
