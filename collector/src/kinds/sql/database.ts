/** A database that is read: connecting so that nothing can be changed, rows as they come, and what goes wrong in words. */
import type { SqlConnection } from '@wide-ledger/contract';
import { explain, sqlFault, type FileCell } from '@wide-ledger/core';
import pg from 'pg';
import { awayByNetwork } from '../away.ts';
import { SourceAway, type Surroundings } from '../kind.ts';
import type { Place } from '../knock.ts';

export const placeOf = ({ host, port }: Pick<SqlConnection, 'host' | 'port'>): Place => ({
  host: host || '127.0.0.1',
  port,
});

/** A column of an answer. */
export interface Column {
  readonly name: string;
  /** As the database calls it, such as `timestamp with time zone`. */
  readonly type: string;
}

export interface Rows {
  readonly columns: readonly Column[];
  readonly rows: readonly (readonly FileCell[])[];
}

/** Columns hold these as numbers; the numbers of types are PostgreSQL's own (pg_type.dat). */
const NUMBERS = new Set([21, 23, 26, 700, 701]);
const WHOLE = 20;
const EXACT = 1700;
const TRUE_OR_FALSE = 16;

/** Everything stays as the database writes it: times to the microsecond, with their offset where they have one. */
const AS_WRITTEN = { getTypeParser: () => (text: string) => text } as unknown as pg.CustomTypesConfig;

/** @returns a cell as its column's type has it. */
function cellOf(text: string | null, type: number): FileCell {
  if (text === null) return null;
  if (NUMBERS.has(type)) return Number(text);
  if (type === WHOLE) return BigInt(text);
  // Whole ones keep their digits, also where a double would not.
  if (type === EXACT) return /^-?\d+$/.test(text) ? BigInt(text) : Number(text);
  if (type === TRUE_OR_FALSE) return text === 't';
  // RFC 3339 wants a T, and minutes behind the hours of an offset.
  return /^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(\.\d+)?[+-]\d\d$/.test(text) ? `${text.replace(' ', 'T')}:00` : text;
}

/** Names of types are looked up once each. */
const typeNames = new Map<number, string>();

/** A connection to a database in which nothing can be changed. */
export class Database {
  private constructor(
    private readonly client: pg.Client,
    private readonly connection: SqlConnection,
  ) {}

  /** @throws SourceAway */
  static async open(connection: SqlConnection, around: Pick<Surroundings, 'secret'>): Promise<Database> {
    const { database, user, password, encrypted, authority, timeoutMilliseconds } = connection;
    const client = new pg.Client({
      ...placeOf(connection),
      database,
      user,
      password: around.secret(password) ?? '',
      ssl: encrypted && (authority === '' ? true : { ca: authority }),
      connectionTimeoutMillis: timeoutMilliseconds,
      query_timeout: 2 * timeoutMilliseconds,
      statement_timeout: timeoutMilliseconds,
      application_name: 'Wide Ledger collector',
      types: AS_WRITTEN,
    });
    // One that breaks while it rests: the next question says so.
    client.on('error', () => undefined);
    try {
      await client.connect();
      await client.query(
        "SET SESSION CHARACTERISTICS AS TRANSACTION READ ONLY; SET datestyle = 'ISO'; SET timezone = 'UTC'; SET bytea_output = 'hex'",
      );
    } catch (error) {
      await client.end().catch(() => undefined);
      throw awayBy(error, connection);
    }
    return new Database(client, connection);
  }

  /** @throws SourceAway */
  async ask(text: string, values: readonly unknown[] = []): Promise<Rows> {
    try {
      const { fields, rows } = await this.client.query<(string | null)[]>({
        text,
        values: [...values],
        rowMode: 'array',
      } as pg.QueryArrayConfig);
      const types = fields.map(({ dataTypeID }) => dataTypeID);
      await this.learnTypes(types);
      return {
        columns: fields.map(({ name, dataTypeID }) => ({ name, type: typeNames.get(dataTypeID) ?? '' })),
        rows: rows.map((row) => row.map((cell, i) => cellOf(cell, types[i]!))),
      };
    } catch (error) {
      throw awayBy(error, this.connection);
    }
  }

  close(): void {
    void this.client.end().catch(() => undefined);
  }

  private async learnTypes(types: readonly number[]): Promise<void> {
    const unknown = types.filter((type) => !typeNames.has(type));
    if (unknown.length === 0) return;
    const { rows } = await this.client.query<{ oid: string; name: string }>(
      'SELECT oid::text AS oid, format_type(oid, NULL) AS name FROM pg_type WHERE oid = ANY($1::oid[])',
      [unknown],
    );
    for (const { oid, name } of rows) typeNames.set(Number(oid), name);
  }
}

/** What went wrong, told by the database or by the network. */
export function awayBy(error: unknown, connection: SqlConnection): SourceAway {
  if (error instanceof SourceAway) return error;
  const { code = '', message, position } = error as Error & { code?: string; position?: string };
  const { host, port } = placeOf(connection);
  if (/^[0-9A-Z]{5}$/.test(code)) {
    const fault = sqlFault(code, position ? `${message}, at letter ${position}` : message);
    return new SourceAway(explain(fault), `SQL_${code}`, fault.status);
  }
  // Its client has no code for these.
  if (/timeout|timed out/i.test(message)) return awayByNetwork(host, port, 'ETIMEDOUT');
  if (/Connection terminated|not queryable/i.test(message)) return awayByNetwork(host, port, 'ECONNRESET');
  return awayByNetwork(host, port, code || 'UNEXPECTED');
}
