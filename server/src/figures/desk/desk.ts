/** The state of the site in one answer. */
import type { Desk } from '@wide-ledger/contract';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { countSetAside, newestSetAside, type Archive } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import type { Exchange } from '../../exchange/index.ts';
import { sourcesWithState, type Collectors } from '../../field/index.ts';
import { Shared, freeBytes, type Ground } from '../../ground/index.ts';
import { concernsOf } from './concerns.ts';
import { restartsIn } from './restarts.ts';

interface Totals {
  posted: number;
  unposted: number;
  last_at: Date | null;
}

/** However many tabs are open, the desk is put together once a second. */
const DESK_MILLISECONDS = 900;
/** Counting reads through what is counted: often enough for figures that move slowly. */
const COUNT_MILLISECONDS = 5000;
const MEGABYTE = 1024 * 1024;

/** What the desk shows of the site. */
export interface DeskSite {
  readonly ground: Ground;
  readonly catalogue: Catalogue;
  readonly archive: Archive;
  readonly collectors: Collectors;
  readonly exchange: Pick<Exchange, 'troubles' | 'zones'>;
}

/** The state of the site, put together when somebody asks. */
export function deskOf({ ground, catalogue, archive, collectors, exchange }: DeskSite): Shared<Desk> {
  const { settings, database, jobs } = ground;
  const { pool } = database;
  const { posting, deriving, quarantine } = archive;
  const lateness = monitorEventLoopDelay({ resolution: 5 });
  lateness.enable();

  const size = new Shared(COUNT_MILLISECONDS, async () => {
    const { rows } = await pool.query<{ blocks: number; bytes: number }>(
      'SELECT ledger_blocks() AS blocks, ledger_bytes() AS bytes',
    );
    return rows[0]!;
  });
  const setAside = new Shared(COUNT_MILLISECONDS, () => countSetAside(database));
  const free = new Shared(COUNT_MILLISECONDS, () => freeBytes(settings.WIDE_LEDGER_DATA));

  return new Shared(DESK_MILLISECONDS, async (): Promise<Desk> => {
    await catalogue.refresh();
    const [totals, { blocks, bytes }, newest, refused, refusedTotal, quarantined, restarts, room, links, zones] =
      await Promise.all([
        pool.query<Totals>(
          `SELECT p.posted_samples AS posted,
              (SELECT coalesce(sum(samples), 0)::bigint FROM journal_entry j WHERE j.id > p.entry) AS unposted,
              (SELECT received_at FROM journal_entry ORDER BY id DESC LIMIT 1) AS last_at
       FROM posting p`,
        ),
        size.get(),
        jobs.list(5),
        newestSetAside(database, 5),
        setAside.get(),
        quarantine.open(5),
        restartsIn(settings.WIDE_LEDGER_DATA),
        free.get(),
        exchange.troubles(),
        exchange.zones(),
      ]);
    const { posted, unposted, last_at } = totals.rows[0]!;
    const states = collectors.states;
    const told: Desk = {
      site: settings.WIDE_LEDGER_SITE,
      zone: settings.WIDE_LEDGER_ZONE,
      zones: zones.filter((zone) => zone !== settings.WIDE_LEDGER_ZONE),
      now: new Date().toISOString(),
      tags: catalogue.tags.length,
      values: posted + unposted,
      valuesPerSecond: states.filter((one) => one.present).reduce((sum, one) => sum + one.valuesPerSecond, 0),
      unposted,
      blocks,
      bytes,
      freeBytes: room,
      lastEntryAt: last_at?.toISOString() ?? null,
      version: catalogue.version,
      collectorVersion: catalogue.collectorVersion,
      lateMilliseconds: lateness.percentile(99) / 1e6,
      collectors: states,
      sources: sourcesWithState(catalogue, collectors),
      jobs: newest,
      setAside: { total: refusedTotal, newest: refused },
      quarantine: quarantined,
      restarts,
      links,
      concerns: [],
    };
    lateness.reset();
    const least = settings.WIDE_LEDGER_LEAST_FREE_MB * MEGABYTE;
    return { ...told, concerns: concernsOf(told, { posting: posting.trouble, deriving: deriving.trouble }, least) };
  });
}
