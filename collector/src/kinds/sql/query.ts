/** The statements by which a query's rows are read on, each once. Pure. */
import type { SqlConnection } from '@wide-ledger/contract';

/** So many rows are read at a time. */
export const ROWS_A_TIME = 5000;

const quoted = (name: string): string => `"${name.replace(/"/g, '""')}"`;

/** The column that grows from row to row. */
export const progressOf = ({ progress, time }: Pick<SqlConnection, 'progress' | 'time'>): string => progress || time;

/** Behind the record's own columns: the row's place, and the database's clock. */
export const OWN_COLUMNS = 2;

const withOwnColumns = (column: string): string =>
  `record.*, ${column}::text AS "wide ledger place", clock_timestamp()::text AS "wide ledger now"`;

type Asked = Pick<SqlConnection, 'query' | 'progress' | 'time'>;

const rowsOf = ({ query }: Asked): string => `(\n${query}\n) AS record`;

/** Some of its rows, in no order. */
export const someStatement = (asked: Asked, most: number): string => `SELECT * FROM ${rowsOf(asked)} LIMIT ${most}`;

/** What its columns are, without a row. */
export const columnsStatement = (asked: Asked): string => someStatement(asked, 0);

/**
 * Rows behind a place, in their order; with the last one's place as the database writes it, and its clock's time.
 * @param type of the progress column, as the database calls it. @param from whether there is a place, given as $1.
 */
export const onStatement = (asked: Asked, type: string, from: boolean, most: number): string => {
  const column = `record.${quoted(progressOf(asked))}`;
  return `SELECT ${withOwnColumns(column)}
    FROM ${rowsOf(asked)} WHERE ${column} IS NOT NULL ${from ? `AND ${column} > $1::${type}` : ''}
    ORDER BY ${column} LIMIT ${most}`;
};

/** All rows of one place: it may be shared by more than are read at a time. */
export const samePlaceStatement = (asked: Asked, type: string): string => {
  const column = `record.${quoted(progressOf(asked))}`;
  return `SELECT ${withOwnColumns(column)}
    FROM ${rowsOf(asked)} WHERE ${column} = $1::${type}`;
};

/**
 * The rows between two places, the second among them; or how many they are.
 * @param type of the progress column. @param from whether there is a first place, given as $2; the second is $1
 */
export const betweenStatement = (asked: Asked, type: string, from: boolean, what: 'rows' | 'count'): string => {
  const column = `record.${quoted(progressOf(asked))}`;
  const named = what === 'count' ? 'count(*)' : withOwnColumns(column);
  return `SELECT ${named} FROM ${rowsOf(asked)}
    WHERE ${column} <= $1::${type} ${from ? `AND ${column} > $2::${type}` : ''} ${what === 'rows' ? `ORDER BY ${column}` : ''}`;
};

/**
 * Which transactions are open; no row on a standby, which does not know. A snapshot's own upper bound is the first that had
 * not ended, not the first that had not begun: the locks that every open one holds on its own number tell the rest. These
 * have 32 bits.
 */
export const SNAPSHOT_STATEMENT = `SELECT pg_snapshot_xmin(now)::text AS xmin, pg_snapshot_xmax(now)::text AS xmax,
    (SELECT array_to_string(array_agg(transactionid::text), ' ') FROM pg_locks WHERE locktype = 'transactionid' AND granted) AS open
  FROM pg_current_snapshot() AS now WHERE NOT pg_is_in_recovery()`;

/** The last place that there is. */
export const endStatement = (asked: Asked): string =>
  `SELECT max(record.${quoted(progressOf(asked))})::text AS place FROM ${rowsOf(asked)}`;

/** The newest rows, the newest last. */
export const newestStatement = (asked: Asked, most: number): string => {
  const column = quoted(progressOf(asked));
  return `SELECT * FROM (SELECT record.* FROM ${rowsOf(asked)} ORDER BY record.${column} DESC NULLS LAST LIMIT ${most}) AS newest
    ORDER BY newest.${column}`;
};
