/**
 * A table of a PostgreSQL database as the far end of a link: a row for each value that stands. Beside it lie two small
 * tables of the link's own: how far it is, which is written in the same transaction as the rows, and what its tags are
 * called there.
 */
import type { CarriedTag, CarriedTagsAnswer, LinkRung, SqlTableEnd as Given } from '@wide-ledger/contract';
import pg from 'pg';
import {
  FarAway,
  StandsElsewhere,
  type ComparedEnd,
  type FarEnd,
  type FarPosition,
  type Stretch,
  type Taken,
} from './farEnd.ts';
import { clockFound, clockOf, encryptionStep, networkSteps, walkRungs } from './rungs.ts';
import { comparedTable } from './sqlComparing.ts';
import { SqlShape } from './sqlShape.ts';
import { rowsOf, type Rows } from './toldRows.ts';

/** Milliseconds. */
const PATIENCE = 10_000;
const LONGEST_STATEMENT = 120_000;
/** Rows of one statement. */
const ROWS_AT_ONCE = 20_000;

export class SqlTableEnd implements FarEnd {
  readonly compared?: ComparedEnd;
  private readonly pool: pg.Pool;
  private readonly shape: SqlShape;
  private prepared = false;
  /** What its tags are called there, as it was read since its position was asked for; nobody else changes it meanwhile. */
  private known: ReadonlyMap<number, CarriedTag> | null = null;

  /** @param link by which the link is known there: the site's identity and its number. */
  constructor(
    private readonly given: Given,
    password: string,
    private readonly link: string,
  ) {
    const { host, port, database, user, encrypted } = given;
    this.pool = new pg.Pool({
      host,
      port,
      database,
      user,
      password,
      ssl: encrypted,
      max: 2,
      connectionTimeoutMillis: PATIENCE,
      statement_timeout: LONGEST_STATEMENT,
      idleTimeoutMillis: 30_000,
      application_name: 'Wide Ledger link',
    });
    // A connection that breaks while it rests: the next statement opens another.
    this.pool.on('error', () => undefined);
    this.shape = new SqlShape(given);
    if (given.columns.status !== null)
      this.compared = comparedTable(
        this.pool,
        this.shape,
        () => this.named(),
        (entries) => this.inTransaction(async (client) => this.write(client, rowsOf(entries, await this.named()))),
      );
  }

  async position(): Promise<FarPosition> {
    this.known = null;
    await this.prepare();
    const { rows } = await this.asking(() =>
      this.pool.query<{ epoch: string; position: string; print: string; last: number }>(
        `SELECT epoch, position, print, (SELECT coalesce(max(number), 0) FROM ${this.shape.tags} WHERE link = $1) AS last
         FROM ${this.shape.positions} WHERE link = $1`,
        [this.link],
      ),
    );
    const [known] = rows;
    return {
      epoch: Number(known?.epoch ?? 0),
      position: Number(known?.position ?? 0),
      print: known?.print ?? '',
      lastNumber: known?.last ?? 0,
      site: null,
      name: `${this.given.table} of ${this.given.database}`,
    };
  }

  /** A tag that is called otherwise by now takes its rows along. */
  async tags(tags: readonly CarriedTag[]): Promise<CarriedTagsAnswer> {
    const { table, column } = this.shape;
    const known = new Map(await this.named());
    const owners = new Map([...known].map(([number, { name }]) => [name, number]));
    const refused = new Map<number, string>();
    await this.inTransaction(async (client) => {
      for (const tag of tags) {
        const before = known.get(tag.number);
        if ((owners.get(tag.name) ?? tag.number) !== tag.number) {
          refused.set(tag.number, `Another tag of this link is called ${tag.name} there.`);
          continue;
        }
        if (before && before.name !== tag.name) {
          await client.query(`UPDATE ${table} SET ${column.tag} = $2 WHERE ${column.tag} = $1`, [
            before.name,
            tag.name,
          ]);
          owners.delete(before.name);
        }
        owners.set(tag.name, tag.number);
        known.set(tag.number, tag);
      }
      const told = tags.filter(({ number }) => !refused.has(number));
      await client.query(
        `INSERT INTO ${this.shape.tags} (link, number, told) SELECT $1, * FROM unnest($2::int[], $3::jsonb[])
         ON CONFLICT (link, number) DO UPDATE SET told = excluded.told`,
        [this.link, told.map(({ number }) => number), told.map((tag) => JSON.stringify(tag))],
      );
    });
    this.known = known;
    return { results: tags.map(({ number }) => ({ number, refused: refused.get(number) ?? null })) };
  }

  async entries({ head, entries, samples }: Stretch): Promise<Taken> {
    const rows = rowsOf(entries, await this.named());
    await this.inTransaction(async (client) => {
      const { rowCount } = await client.query(
        `INSERT INTO ${this.shape.positions} AS known (link, epoch, position, print) VALUES ($1, $2, $3, $4)
         ON CONFLICT (link) DO UPDATE SET epoch = excluded.epoch, position = excluded.position, print = excluded.print
           WHERE (known.epoch = $2 AND known.position = $5) OR known.epoch = $2 - 1`,
        [this.link, head.epoch, head.position, head.print, head.after],
      );
      if (rowCount !== 1) throw new StandsElsewhere();
      await this.write(client, rows);
    });
    return { accepted: samples, setAside: 0, bytes: 0 };
  }

  async *check(): AsyncGenerator<LinkRung> {
    const { host, port, encrypted, database, table } = this.given;
    yield* walkRungs([
      ...networkSteps({ host, port }),
      ['encryption', encryptionStep({ host, port }, encrypted)],
      [
        'sign-in',
        async () => {
          await this.asking(() => this.pool.query('SELECT 1'));
          return { sentence: `The database ${database} lets ${this.given.user} in.` };
        },
      ],
      [
        'permission',
        async () => {
          // Whether it could be done is seen by doing it, and taking it back.
          const client = await this.asking(() => this.pool.connect());
          try {
            await client.query('BEGIN');
            await this.shape.prepare(client);
            await client.query('ROLLBACK');
          } finally {
            client.release(true);
          }
          return { sentence: `${table} can be written to, and made where it is not there yet.` };
        },
      ],
      [
        'clock',
        async () => {
          const asked = Date.now();
          const { rows } = await this.asking(() => this.pool.query<{ now: Date }>('SELECT clock_timestamp() AS now'));
          return clockFound(clockOf(rows[0]!.now.toISOString(), asked, Date.now()));
        },
      ],
    ]);
  }

  async close(): Promise<void> {
    await this.pool.end().catch(() => undefined);
  }

  private async prepare(): Promise<void> {
    if (this.prepared) return;
    await this.inTransaction((client) => this.shape.prepare(client));
    this.prepared = true;
  }

  /** The link's tags as they are called there, by its numbers. */
  private async named(): Promise<ReadonlyMap<number, CarriedTag>> {
    if (this.known) return this.known;
    await this.prepare();
    const { rows } = await this.asking(() =>
      this.pool.query<{ number: number; told: CarriedTag }>(
        `SELECT number, told FROM ${this.shape.tags} WHERE link = $1`,
        [this.link],
      ),
    );
    return (this.known = new Map(rows.map(({ number, told }) => [number, told])));
  }

  private async write(client: pg.PoolClient, { write, remove }: Rows): Promise<void> {
    for (let at = 0; at < remove.length; at += ROWS_AT_ONCE)
      await client.query(...this.shape.removal(remove.slice(at, at + ROWS_AT_ONCE)));
    for (let at = 0; at < write.length; at += ROWS_AT_ONCE)
      await client.query(...this.shape.upsert(write.slice(at, at + ROWS_AT_ONCE)));
  }

  private async inTransaction(work: (client: pg.PoolClient) => Promise<void>): Promise<void> {
    const client = await this.asking(() => this.pool.connect());
    try {
      await this.asking(async () => {
        await client.query('BEGIN');
        await work(client);
        await client.query('COMMIT');
      });
      client.release();
    } catch (error) {
      // Whatever it holds ends with it.
      client.release(true);
      throw error;
    }
  }

  /** @throws FarAway with what the database, or the way to it, said. */
  private async asking<Answer>(work: () => Promise<Answer>): Promise<Answer> {
    try {
      return await work();
    } catch (error) {
      if (error instanceof StandsElsewhere || error instanceof FarAway) throw error;
      const { message, code } = error as Error & { code?: string };
      const { host, port } = this.given;
      throw Object.assign(new FarAway(`The database at ${host}:${port} says: ${message || code}.`), { code });
    }
  }
}
