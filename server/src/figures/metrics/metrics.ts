/** Figures for whoever watches the server from outside, in the open text format of metrics. */
import { Counter, Gauge, Histogram, Registry, collectDefaultMetrics } from 'prom-client';
import type { Archive } from '../../archive/index.ts';
import type { Collectors } from '../../field/index.ts';
import { Shared, freeBytes, type Ground } from '../../ground/index.ts';

const PREFIX = 'wide_ledger_';
/** Sizes of tables are asked for this often at most. */
const SIZE_MILLISECONDS = 10_000;
const READ_SECONDS = [0.01, 0.03, 0.1, 0.3, 1, 3, 10, 30, 100];

interface Sizes {
  readonly journal: number;
  readonly entries: number;
  readonly samples: number;
  readonly seconds: number;
}

/** The registry of a server's metrics, filled when it is asked for. */
export function openMetrics({ database, settings }: Ground, archive: Archive, collectors: Collectors): Registry {
  const register = new Registry();
  collectDefaultMetrics({ register, prefix: PREFIX });
  const registers = [register];
  const gauge = (name: string, help: string, value: () => Promise<number> | number): void => {
    new Gauge({
      name: PREFIX + name,
      help,
      registers,
      async collect() {
        // A figure that cannot be had is left out: the others are told all the same.
        const figure = await Promise.resolve(value()).catch(() => NaN);
        if (Number.isNaN(figure)) this.reset();
        else this.set(figure);
      },
    });
  };

  const acknowledged = new Counter({
    name: `${PREFIX}values_acknowledged_total`,
    help: 'Values committed to the journal by this process',
    registers,
  });
  archive.journal.listen(({ times }) => acknowledged.inc(times.length));

  const reads = new Histogram({
    name: `${PREFIX}read_seconds`,
    help: 'How long readings of history took, to the last byte',
    labelNames: ['kind', 'weight', 'outcome'],
    buckets: READ_SECONDS,
    registers,
  });
  archive.reading.listen(({ kind, weight, outcome, seconds }) => reads.observe({ kind, weight, outcome }, seconds));
  for (const weight of ['small', 'large'] as const)
    gauge(`reads_${weight}`, `Readings under way: ${weight} ones`, () => archive.reading.inUse(weight));

  const sizes = new Shared(SIZE_MILLISECONDS, async (): Promise<Sizes> => {
    const { rows } = await database.pool.query<Sizes>(
      `SELECT coalesce((SELECT sum(pg_total_relation_size(inhrelid)) FROM pg_inherits
                 WHERE inhparent = 'journal_entry'::regclass), 0)::bigint AS journal,
              count(*) AS entries, coalesce(sum(samples), 0)::bigint AS samples,
              coalesce(extract(epoch FROM clock_timestamp() - min(received_at)), 0)::float8 AS seconds
       FROM journal_entry WHERE id > (SELECT entry FROM posting)`,
    );
    return rows[0]!;
  });
  const ofSizes = (name: keyof Sizes) => async (): Promise<number> => (await sizes.get())[name];
  gauge('journal_bytes', 'What the journal takes on the disk', ofSizes('journal'));
  gauge('posting_lag_entries', 'Entries that are not posted yet', ofSizes('entries'));
  gauge('posting_lag_values', 'Values that are not posted yet', ofSizes('samples'));
  gauge('posting_lag_seconds', 'For how long the oldest of them has waited', ofSizes('seconds'));
  gauge(
    'deriving_lag_seconds',
    'How far computed tags are behind what they are computed from',
    () => archive.deriving.lag,
  );
  gauge('free_bytes', 'Room on the disk of the data', async () => (await freeBytes(settings.WIDE_LEDGER_DATA)) ?? NaN);

  const { pool } = database;
  gauge('pool_connections', 'Connections to the database', () => pool.totalCount);
  gauge('pool_idle', 'Connections that nobody uses', () => pool.idleCount);
  gauge('pool_waiting', 'Who waits for a connection', () => pool.waitingCount);

  new Gauge({
    name: `${PREFIX}collector_backlog_values`,
    help: 'Values on the spools of collectors',
    labelNames: ['collector'],
    registers,
    collect() {
      this.reset();
      for (const { name, spooledSamples } of collectors.states) this.set({ collector: name }, spooledSamples);
    },
  });
  new Gauge({
    name: `${PREFIX}collector_present`,
    help: 'Whether a collector has reported within seconds',
    labelNames: ['collector'],
    registers,
    collect() {
      this.reset();
      for (const { name, present } of collectors.states) this.set({ collector: name }, Number(present));
    },
  });
  return register;
}
