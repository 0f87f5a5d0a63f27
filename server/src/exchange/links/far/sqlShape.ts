/** The statements of a table that a link fills: made of names that were checked, never of anything that is carried. */
import type { SqlTableEnd } from '@wide-ledger/contract';
import type pg from 'pg';
import { FarAway } from './farEnd.ts';
import { qualityOf, type Row, type Rows } from './toldRows.ts';

type Statement = readonly [text: string, values: unknown[]];
type ColumnName = keyof SqlTableEnd['columns'];

const TYPES: Readonly<Record<ColumnName, string>> = {
  time: 'timestamptz',
  tag: 'text',
  value: 'double precision',
  text: 'text',
  status: 'bigint',
  quality: 'text',
  unit: 'text',
  place: 'text',
};

/** What of a row goes into a column, as the text of a parameter; null: no value. A double keeps the sign of its zero. */
const CELLS: Readonly<Record<ColumnName, (row: Row) => string | null>> = {
  time: ({ micros }) => String(micros),
  tag: ({ tag }) => tag.name,
  value: ({ value }) => (value === null ? null : Object.is(value, -0) ? '-0' : String(value)),
  text: ({ text }) => text,
  status: ({ status }) => String(status),
  quality: qualityOf,
  unit: ({ tag }) => tag.unit,
  place: ({ tag }) => tag.place,
};

/** What of a row stands in a column. */
export const cellOf = (column: ColumnName, row: Row): string | null => CELLS[column](row);

const AT = (micros: string): string => `timestamptz 'epoch' + ${micros} * interval '1 microsecond'`;

export class SqlShape {
  readonly table: string;
  readonly positions: string;
  readonly tags: string;
  /** Names of columns, quoted; those that are left out are absent. */
  readonly column: Readonly<Partial<Record<ColumnName, string>>>;
  private readonly columns: readonly ColumnName[];

  constructor({ table, columns }: SqlTableEnd) {
    const [schema, name] = table.includes('.') ? (table.split('.') as [string, string]) : [null, table];
    const quoted = (text: string): string => (schema === null ? `"${text}"` : `"${schema}"."${text}"`);
    this.table = quoted(name);
    this.positions = quoted(`${name}_carried`);
    this.tags = quoted(`${name}_carried_tag`);
    this.columns = (Object.keys(columns) as ColumnName[]).filter((column) => columns[column] !== null);
    this.column = Object.fromEntries(this.columns.map((column) => [column, `"${columns[column]!}"`]));
  }

  /** Makes what is missing. @throws FarAway where a table is there that cannot be filled. */
  async prepare(client: pg.PoolClient): Promise<void> {
    const { time, tag } = this.column;
    const columns = this.columns.map(
      (column) => `${this.column[column]} ${TYPES[column]}${column === 'time' || column === 'tag' ? ' NOT NULL' : ''}`,
    );
    await client.query(
      `CREATE TABLE IF NOT EXISTS ${this.table} (${columns.join(', ')}, PRIMARY KEY (${tag}, ${time}))`,
    );
    await client.query(
      `CREATE TABLE IF NOT EXISTS ${this.positions}
         (link text PRIMARY KEY, epoch bigint NOT NULL, position bigint NOT NULL, print text NOT NULL)`,
    );
    await client.query(
      `CREATE TABLE IF NOT EXISTS ${this.tags}
         (link text NOT NULL, number integer NOT NULL, told jsonb NOT NULL, PRIMARY KEY (link, number))`,
    );
    const { rows } = await client.query<{ attname: string; type: string }>(
      `SELECT attname, format_type(atttypid, NULL) AS type FROM pg_attribute
       WHERE attrelid = $1::regclass AND attnum > 0 AND NOT attisdropped`,
      [this.table],
    );
    const found = new Map(rows.map(({ attname, type }) => [`"${attname}"`, type]));
    for (const column of this.columns) {
      const name = this.column[column]!;
      const type = found.get(name);
      if (type === undefined)
        throw new FarAway(`The table ${this.table} has no column ${name}. Add it, or choose another.`);
      const wanted = column === 'time' ? 'timestamp with time zone' : TYPES[column];
      if (type !== wanted) throw new FarAway(`The column ${name} of ${this.table} is ${type}; it has to be ${wanted}.`);
    }
    const { rows: unique } = await client.query<{ columns: string[] }>(
      `SELECT array(SELECT attname::text FROM pg_attribute a WHERE a.attrelid = i.indrelid AND a.attnum = ANY(i.indkey)
                    ORDER BY 1) AS columns
       FROM pg_index i WHERE indrelid = $1::regclass AND indisunique AND indpred IS NULL`,
      [this.table],
    );
    const key = [tag!, time!].map((name) => name.replaceAll('"', '')).sort();
    if (!unique.some(({ columns: own }) => own.join() === key.join()))
      throw new FarAway(
        `The table ${this.table} has no unique index on (${key.join(', ')}), by which a later value displaces an earlier one. Make one.`,
      );
  }

  upsert(rows: readonly Row[]): [string, unknown[]] {
    const names = this.columns.map((column) => this.column[column]!);
    const given = this.columns.map((column, i) => `$${i + 1}::${column === 'time' ? 'bigint' : TYPES[column]}[]`);
    const taken = this.columns.map((column, i) => (column === 'time' ? AT(`c${i}`) : `c${i}`));
    const changed = this.columns
      .filter((column) => column !== 'time' && column !== 'tag')
      .map((column) => `${this.column[column]} = excluded.${this.column[column]}`);
    return [
      `INSERT INTO ${this.table} (${names.join(', ')})
         SELECT ${taken.join(', ')} FROM unnest(${given.join(', ')}) AS r(${this.columns.map((_, i) => `c${i}`).join(', ')})
       ON CONFLICT (${this.column.tag}, ${this.column.time}) DO UPDATE SET ${changed.join(', ')}`,
      this.columns.map((column) => rows.map(CELLS[column])),
    ];
  }

  removal(rows: Rows['remove']): [string, unknown[]] {
    const { time, tag } = this.column;
    return [
      `DELETE FROM ${this.table} t USING unnest($1::text[], $2::bigint[]) AS r(tag, micros)
       WHERE t.${tag} = r.tag AND t.${time} = ${AT('r.micros')}`,
      [rows.map((row) => row.tag.name), rows.map(({ micros }) => micros)],
    ];
  }

  /** The rows of a tag in a window [from, to), in ascending time; microseconds as text. */
  reading(name: string, from: number, to: number): Statement {
    const { time, tag, value, text, status } = this.column;
    return [
      `SELECT (extract(epoch FROM ${time}) * 1000000)::bigint::text AS micros, ${value} AS value,
              ${text ?? 'NULL::text'} AS text, ${status}::text AS status
       FROM ${this.table} WHERE ${tag} = $1 AND ${time} >= ${AT('$2::bigint')} AND ${time} < ${AT('$3::bigint')} ORDER BY ${time}`,
      [name, from, to],
    ];
  }
}
