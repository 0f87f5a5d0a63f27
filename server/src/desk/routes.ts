import type { Desk } from '@wide-ledger/contract';
import { Router } from 'express';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import type { Guard } from '../access/guard.ts';
import type { Collectors } from '../collectors/collectors.ts';
import type { Database } from '../database/connect.ts';
import { newestSetAside } from '../journal/routes.ts';
import { newestJobs } from '../jobs/routes.ts';
import type { PostingThread } from '../ledger/postingThread.ts';
import type { Settings } from '../settings.ts';
import { presentSources } from '../sources/routes.ts';
import type { Catalogue } from '../tags/store.ts';

interface Totals {
  posted: number;
  unposted: number;
  last_at: Date | null;
}

/** Counting blocks and bytes reads every partition's catalogue entry: often enough for a figure that moves slowly. */
const SIZE_MILLISECONDS = 5000;

export function deskRoutes(
  settings: Settings,
  database: Database,
  catalogue: Catalogue,
  collectors: Collectors,
  posting: PostingThread,
  guard: Guard,
): Router {
  const router = Router();
  const { pool } = database;
  const lateness = monitorEventLoopDelay({ resolution: 5 });
  lateness.enable();
  let size = { at: -Infinity, blocks: 0, bytes: 0 };

  async function ledgerSize(): Promise<typeof size> {
    if (performance.now() - size.at < SIZE_MILLISECONDS) return size;
    const { rows } = await pool.query<{ blocks: number; bytes: number }>(
      `SELECT (SELECT count(*) FROM ledger_block) AS blocks,
              (SELECT coalesce(sum(pg_total_relation_size(relid)), 0)::bigint FROM pg_partition_tree('ledger_block') WHERE isleaf) AS bytes`,
    );
    size = { at: performance.now(), ...rows[0]! };
    return size;
  }

  router.get('/desk', guard.needs('read'), async (_request, response) => {
    await catalogue.refresh();
    const [totals, ledger, jobs, setAside] = await Promise.all([
      pool.query<Totals>(
        `SELECT p.posted_samples AS posted,
                (SELECT coalesce(sum(samples), 0)::bigint FROM journal_entry j WHERE (j.tx, j.id) > (p.tx, p.id)) AS unposted,
                (SELECT received_at FROM journal_entry ORDER BY tx DESC, id DESC LIMIT 1) AS last_at
         FROM posting p`,
      ),
      ledgerSize(),
      newestJobs(database, 5),
      newestSetAside(database, 5),
    ]);
    const { posted, unposted, last_at } = totals.rows[0]!;
    const sources = presentSources(catalogue, collectors);
    const states = collectors.states;
    const desk: Desk = {
      site: settings.WIDE_LEDGER_SITE,
      zone: settings.WIDE_LEDGER_ZONE,
      now: new Date().toISOString(),
      tags: catalogue.tags.length,
      values: posted + unposted,
      valuesPerSecond: states.filter((one) => one.present).reduce((sum, one) => sum + one.valuesPerSecond, 0),
      unposted,
      blocks: ledger.blocks,
      bytes: ledger.bytes,
      lastEntryAt: last_at?.toISOString() ?? null,
      version: catalogue.version,
      lateMilliseconds: lateness.percentile(99) / 1e6,
      collectors: states,
      sources,
      jobs,
      setAside,
      concerns: [],
    };
    lateness.reset();
    response.json({ ...desk, concerns: concernsOf(desk, posting) });
  });
  return router;
}

/** What needs a person, most pressing first. */
function concernsOf(desk: Desk, posting: PostingThread): Desk['concerns'] {
  const concerns: Desk['concerns'] = [];
  if (posting.failure)
    concerns.push({ weight: 'failure', sentence: `Posting is waiting: ${posting.failure}`, to: '/' });
  if (desk.collectors.length === 0 && desk.sources.length > 0) {
    concerns.push({
      weight: 'failure',
      sentence: 'No collector has reported since the server started.',
      to: '/sources',
    });
  }
  for (const collector of desk.collectors) {
    if (!collector.present)
      concerns.push({ weight: 'failure', sentence: `Collector ${collector.name} is silent.`, to: '/sources' });
    else if (collector.spooledEntries > 20) {
      concerns.push({
        weight: 'warning',
        sentence: `Collector ${collector.name} holds ${collector.spooledSamples} values on its spool.`,
        to: '/sources',
      });
    }
  }
  for (const { name, state } of desk.sources) {
    if (state?.state === 'away')
      concerns.push({ weight: 'failure', sentence: `${name} is away. ${state.sentence}`, to: '/sources' });
  }
  for (const job of desk.jobs) {
    if (job.state === 'failed')
      concerns.push({ weight: 'warning', sentence: `${job.title} failed. ${job.sentence}`, to: '/' });
  }
  if (desk.setAside.total > 0) {
    const many = desk.setAside.total === 1 ? '1 value was' : `${desk.setAside.total} values were`;
    concerns.push({ weight: 'warning', sentence: `${many} set aside.`, to: '/#set-aside' });
  }
  return concerns;
}
