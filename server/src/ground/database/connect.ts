/** The connection to the store's PostgreSQL database: pool, migrations, and the role for SQL readers. */
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
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

/**
 * A pool of connections, which are opened as they are needed.
 * @param most connections at a time. @param statementMilliseconds after which the database ends a statement; 0: never.
 */
export function openPool(url: string, log: Logger, most = 12, statementMilliseconds = 0): pg.Pool {
  const pool = new pg.Pool({
    connectionString: url,
    max: most,
    connectionTimeoutMillis: PATIENCE_MILLISECONDS,
    ...(statementMilliseconds > 0 && { statement_timeout: statementMilliseconds }),
  });
  // Without a listener the loss of a connection would end the process: of an idle one, and of one that somebody holds
  // between two statements.
  const lost = (error: Error): void => log.warn({ error: error.message }, 'a database connection was lost');
  pool.on('error', lost);
  pool.on('connect', (client) => client.on('error', lost));
  return pool;
}

/** Keys of the advisory locks of Wide Ledger: two each, since those of one key are the journal's (functions/2_journal.sql). */
export const LOCKS = 7000;
const SCHEMA_LOCK = 0;

/**
 * Opens the pool and brings the schema up to date. Safe to call from several servers of one store at once.
 * @param schemaFolder holds `migrations`, each applied once, and `functions`, applied again when one of them changes.
 */
export async function openDatabase(url: string, schemaFolder: string, log: Logger): Promise<Database> {
  const pool = openPool(url, log);
  const tables = drizzle(pool);
  try {
    const client = await pool.connect();
    try {
      await client.query('SELECT pg_advisory_lock($1, $2)', [LOCKS, SCHEMA_LOCK]);
      await migrate(tables, { migrationsFolder: join(schemaFolder, 'migrations') });
      await applyFunctions(client, join(schemaFolder, 'functions'));
    } finally {
      await client.query('SELECT pg_advisory_unlock($1, $2)', [LOCKS, SCHEMA_LOCK]).catch(() => undefined);
      client.release();
    }
  } catch (error) {
    await pool.end();
    throw error;
  }
  return { pool, tables };
}

/** Functions and views stand in files that say what they are now, not in what changed them once. */
async function applyFunctions(client: pg.PoolClient, folder: string): Promise<void> {
  const texts = readdirSync(folder)
    .sort()
    .map((file) => readFileSync(join(folder, file), 'utf8'));
  const print = createHash('sha256').update(texts.join('\0')).digest('hex');
  const { rows } = await client.query('SELECT FROM applied_functions WHERE print = $1', [print]);
  if (rows.length > 0) return;
  try {
    await client.query('BEGIN');
    for (const text of texts) await client.query(text);
    await client.query(
      'INSERT INTO applied_functions (print) VALUES ($1) ON CONFLICT (only_row) DO UPDATE SET print = excluded.print',
      [print],
    );
    await client.query('COMMIT');
  } catch (error) {
    await client.query('ROLLBACK').catch(() => undefined);
    throw error;
  }
}

/** Runs statements in one transaction on a connection of its own. @throws whatever the work throws, rolled back. */
export async function inTransaction<Result>(
  pool: pg.Pool,
  work: (client: pg.PoolClient) => Promise<Result>,
): Promise<Result> {
  const client = await pool.connect();
  let broken = false;
  try {
    await client.query('BEGIN');
    const result = await work(client);
    await client.query('COMMIT');
    return result;
  } catch (error) {
    await client.query('ROLLBACK').catch(() => (broken = true));
    throw error;
  } finally {
    client.release(broken);
  }
}
