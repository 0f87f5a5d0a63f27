/** A logger that writes a row for each value into a table, behind its line. */
import pg from 'pg';
import { BOILER_LOG, writtenDown } from '../../plant/kilnbank/records.ts';
import { Relay } from '../../relay/relay.ts';
import type { Device, DeviceState } from '../device.ts';
import { BeatWriter, recorderState } from './writing.ts';

/** Days that the logger keeps. */
const KEPT_DAYS = 7;

/** Where a logger's database is, and with which password it may be read. */
export interface LoggerDatabase {
  /** Where it writes itself: past the line. */
  readonly url: string;
  readonly password: string;
}

export class BoilerLogDevice implements Device {
  readonly line: Relay;
  private rows = 0;
  private pool: pg.Pool | null = null;
  private readonly writer: BeatWriter;

  constructor(
    host: string,
    port: number,
    private readonly database: LoggerDatabase,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    const { hostname, port: inner } = new URL(database.url);
    this.line = new Relay(BOILER_LOG.name, host, port, Number(inner || 5432), hostname);
    this.writer = new BeatWriter(
      BOILER_LOG.everySeconds,
      (beats) => this.write(beats),
      () => true,
      clock,
    );
  }

  async start(): Promise<void> {
    this.pool = new pg.Pool({ connectionString: this.database.url, max: 1 });
    this.pool.on('error', () => undefined);
    await this.prepare(this.pool);
    this.writer.start();
    await this.line.open();
  }

  async stop(): Promise<void> {
    this.writer.stop();
    await this.line.stop();
    await this.pool?.end();
  }

  get state(): DeviceState {
    return recorderState(BOILER_LOG, this.line.state, this.clock(), { protocol: 'SQL', written: this.rows });
  }

  private async prepare(pool: pg.Pool): Promise<void> {
    const { reader } = BOILER_LOG;
    const [role, secret] = [pg.escapeIdentifier(reader), pg.escapeLiteral(this.database.password)];
    await pool.query(`
      CREATE TABLE IF NOT EXISTS ${BOILER_LOG.table} (
        number bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        logged_at timestamptz NOT NULL, point text NOT NULL, value double precision, quality smallint NOT NULL);
      CREATE INDEX IF NOT EXISTS boiler_log_time ON ${BOILER_LOG.table} (logged_at);
      DO $$ BEGIN
        IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = ${pg.escapeLiteral(reader)}) THEN CREATE ROLE ${role} LOGIN; END IF;
      END $$;
      ALTER ROLE ${role} PASSWORD ${secret};
      GRANT SELECT ON ${BOILER_LOG.table} TO ${role};`);
  }

  private async write(beats: readonly number[]): Promise<void> {
    const rows = beats.flatMap((beat) => BOILER_LOG.points.map((point) => ({ beat, point })));
    await this.pool!.query(
      `INSERT INTO ${BOILER_LOG.table} (logged_at, point, value, quality)
         SELECT to_timestamp(t), p, v, 192 FROM unnest($1::double precision[], $2::text[], $3::double precision[]) AS row(t, p, v)`,
      [
        rows.map(({ beat }) => beat),
        rows.map(({ point }) => point.series),
        rows.map(({ beat, point }) => writtenDown(point, beat)),
      ],
    );
    this.rows += rows.length;
    await this.pool!.query(`DELETE FROM ${BOILER_LOG.table} WHERE logged_at < now() - $1 * interval '1 day'`, [
      KEPT_DAYS,
    ]);
  }
}
