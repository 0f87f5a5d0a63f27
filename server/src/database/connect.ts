/** The connection to the store's PostgreSQL database: pool, migrations, and the role for SQL readers. */
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import type { Logger } from 'pino';

const INT8 = 20;

// Microseconds and counts stay below 2^53, so 64-bit integers come as numbers rather than texts.
pg.types.setTypeParser(INT8, Number);

export interface Database {
  readonly pool: pg.Pool;
  readonly tables: NodePgDatabase;
}

/** A database that refuses says so at once; this long is waited for one that says nothing, such as behind a stalled link. */
const PATIENCE_MILLISECONDS = 20_000;

/** A pool of connections, which are opened as they are needed. */
export function openPool(url: string, log: Logger, most = 12): pg.Pool {
  const pool = new pg.Pool({ connectionString: url, max: most, connectionTimeoutMillis: PATIENCE_MILLISECONDS });
  // Without a listener the loss of a connection would end the process: of an idle one, and of one that somebody holds
  // between two statements.
  const lost = (error: Error): void => log.warn({ error: error.message }, 'a database connection was lost');
  pool.on('error', lost);
  pool.on('connect', (client) => client.on('error', lost));
  return pool;
}

/** Opens the pool and brings the schema up to date. Safe to call from several servers of one store at once. */
export async function openDatabase(url: string, migrationsFolder: string, log: Logger): Promise<Database> {
  const pool = openPool(url, log);
  const tables = drizzle(pool);
  try {
    const client = await pool.connect();
    try {
      await client.query('SELECT pg_advisory_lock(7000)');
      await migrate(tables, { migrationsFolder });
    } finally {
      await client.query('SELECT pg_advisory_unlock(7000)').catch(() => undefined);
      client.release();
    }
  } catch (error) {
    await pool.end();
    throw error;
  }
  return { pool, tables };
}

const READER = 'history_reader';

/**
 * The read-only role for SQL tools: sees the schema `history` and nothing else, for at most a minute per statement.
 * A database user without the right to make roles goes without, and the log says so.
 */
export async function prepareReader({ pool }: Database, password: string, log: Logger): Promise<void> {
  const quoted = `'${password.replaceAll("'", "''")}'`;
  const statements = [
    `DO $$ BEGIN IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '${READER}') THEN CREATE ROLE ${READER} LOGIN; END IF; END $$`,
    `ALTER ROLE ${READER} PASSWORD ${quoted}`,
    `ALTER ROLE ${READER} SET default_transaction_read_only = on`,
    `ALTER ROLE ${READER} SET statement_timeout = '60s'`,
    `GRANT USAGE ON SCHEMA history TO ${READER}`,
    `GRANT SELECT ON ALL TABLES IN SCHEMA history TO ${READER}`,
    `GRANT EXECUTE ON ALL FUNCTIONS IN SCHEMA history TO ${READER}`,
    'REVOKE CREATE ON SCHEMA public FROM PUBLIC',
  ];
  try {
    for (const statement of statements) await pool.query(statement);
  } catch (error) {
    log.warn(
      { error: (error as Error).message },
      `the role ${READER} could not be prepared; SQL tools need another one`,
    );
  }
}
