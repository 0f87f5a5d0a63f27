/** The read-only role for SQL tools: what it may, and what ends that takes too long, whatever its sessions set. */
import type { Pool } from 'pg';
import pg from 'pg';
import type { Logger } from 'pino';
import type { Seal } from '@wide-ledger/vault';

/** How long SQL tools may take. */
export interface ReaderLimits {
  /** Longest statement, and longest open transaction. Seconds. */
  readonly seconds: number;
  /** What the limit itself has not ended by then, because a session raised it, is ended from outside. Seconds. */
  readonly grace: number;
  /** How often that is looked for. Milliseconds. */
  readonly every: number;
}
const LIMITS: ReaderLimits = { seconds: 60, grace: 5, every: 2000 };
/** Of the connections that PostgreSQL has, so many at most are for SQL tools: the application keeps its own. */
const CONNECTIONS = 10;

/** Functions that let whoever may call them take room or locks, though they change no table. */
const TAKING = `p.proname ~ '^(lo_|lowrite$|pg_advisory|pg_try_advisory)'`;

/** A role for SQL tools that sees the schema `history` and nothing else. */
export class ReaderRole {
  private watching: NodeJS.Timeout | null = null;

  /** @param name of the role. A role belongs to the whole cluster: each site has one of its own. */
  constructor(
    private readonly home: Pool,
    private readonly seal: Seal,
    private readonly name: string,
    private readonly log: Logger,
    private readonly limits = LIMITS,
  ) {}

  /**
   * Makes the role what it has to be. A database user without the right to make roles goes without, and the log says so.
   * @param password until it is changed in the application.
   */
  async prepare(password: string): Promise<void> {
    const role = pg.escapeIdentifier(this.name);
    const rights = pg.escapeIdentifier(`${this.name}_rights`);
    const make = (name: string, how: string): string =>
      `DO $$ BEGIN IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = ${pg.escapeLiteral(name)}) THEN CREATE ROLE ${pg.escapeIdentifier(name)} ${how}; END IF; END $$`;
    const statements = [
      make(this.name, 'LOGIN'),
      // Rights belong to a role that nobody signs in as: what is granted to a login it could not lose by itself either.
      make(`${this.name}_rights`, 'NOLOGIN'),
      `GRANT ${rights} TO ${role}`,
      `ALTER ROLE ${role} CONNECTION LIMIT ${CONNECTIONS}`,
      `ALTER ROLE ${role} SET default_transaction_read_only = on`,
      `ALTER ROLE ${role} SET statement_timeout = '${this.limits.seconds}s'`,
      `ALTER ROLE ${role} SET idle_in_transaction_session_timeout = '${this.limits.seconds}s'`,
      `REVOKE ALL ON ALL TABLES IN SCHEMA history FROM ${role}`,
      `GRANT USAGE ON SCHEMA history TO ${rights}`,
      `GRANT SELECT ON ALL TABLES IN SCHEMA history TO ${rights}`,
      `GRANT EXECUTE ON ALL FUNCTIONS IN SCHEMA history TO ${rights}`,
      'REVOKE CREATE ON SCHEMA public FROM PUBLIC',
      `DO $$ BEGIN EXECUTE format('REVOKE TEMPORARY ON DATABASE %I FROM PUBLIC', current_database()); END $$`,
      `DO $$ DECLARE f regprocedure; BEGIN
         FOR f IN SELECT p.oid FROM pg_proc p WHERE p.pronamespace = 'pg_catalog'::regnamespace AND ${TAKING} LOOP
           EXECUTE format('REVOKE EXECUTE ON FUNCTION %s FROM PUBLIC', f);
           EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO CURRENT_USER', f);
         END LOOP;
       END $$`,
    ];
    for (const statement of statements) await this.attempt(statement);
    await this.attempt(passwordStatement(role, (await this.changedPassword()) ?? password));
    this.watching = setInterval(() => void this.endWhatTakesTooLong(), this.limits.every);
  }

  /** Gives the role another password, which stands from now on. */
  async changePassword(password: string): Promise<void> {
    await this.home.query(passwordStatement(pg.escapeIdentifier(this.name), password));
    await this.home.query(
      `INSERT INTO reader_password (sealed) VALUES ($1)
       ON CONFLICT (only_row) DO UPDATE SET sealed = excluded.sealed, changed_at = now()`,
      [this.seal.close(password)],
    );
  }

  stop(): void {
    if (this.watching) clearInterval(this.watching);
  }

  private async attempt(statement: string): Promise<void> {
    try {
      await this.home.query(statement);
    } catch (error) {
      const { message, code } = error as Error & { code?: string };
      this.log.warn({ message, code }, `the role ${this.name} could not be made all that it should be`);
    }
  }

  private async changedPassword(): Promise<string | null> {
    const { rows } = await this.home.query<{ sealed: string }>('SELECT sealed FROM reader_password');
    return rows[0] ? this.seal.open(rows[0].sealed) : null;
  }

  /** A session may set its own limits; it cannot set this one. */
  private async endWhatTakesTooLong(): Promise<void> {
    try {
      const { rows } = await this.home.query<{ pid: number }>({
        name: 'end_readers',
        // Found first, ended then: in one condition PostgreSQL might end before it looks at whose they are.
        text: `WITH late AS MATERIALIZED (SELECT pid FROM pg_stat_activity WHERE usename = $1
                 AND datname = current_database() AND xact_start < now() - make_interval(secs => $2))
               SELECT pid FROM late WHERE pg_terminate_backend(pid)`,
        values: [this.name, this.limits.seconds + this.limits.grace],
      });
      if (rows.length > 0)
        this.log.warn({ sessions: rows.length }, 'sessions of SQL tools were ended: they took too long');
    } catch {
      // The database is away, or does not allow it: the limits of the role are what there is.
    }
  }
}

const passwordStatement = (role: string, password: string): string =>
  `ALTER ROLE ${role} PASSWORD ${pg.escapeLiteral(password)}`;
