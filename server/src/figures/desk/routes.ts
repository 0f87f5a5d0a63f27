import type { Desk } from '@wide-ledger/contract';
import { Router } from 'express';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { newestSetAside, type Archive, type PostingThread } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { sourcesWithState, type Collectors } from '../../field/index.ts';
import type { Ground } from '../../ground/index.ts';
import type { Guard } from '../../people/index.ts';

interface Totals {
  posted: number;
  unposted: number;
  last_at: Date | null;
}

/** Counting blocks and bytes reads every partition's catalogue entry: often enough for a figure that moves slowly. */
const SIZE_MILLISECONDS = 5000;

/** What the desk shows of the site. */
export interface DeskSite {
  readonly ground: Ground;
  readonly guard: Guard;
  readonly catalogue: Catalogue;
  readonly archive: Archive;
  readonly collectors: Collectors;
}

/** The desk's answer, health for programs, and the places where all is counted. */
export function deskRoutes({ ground, guard, catalogue, archive, collectors }: DeskSite): Router {
  const router = Router();
  const { settings, database, jobs } = ground;
  const { pool } = database;
  const { posting, quarantine } = archive;
  const lateness = monitorEventLoopDelay({ resolution: 5 });
  lateness.enable();
  let size = { at: -Infinity, blocks: 0, bytes: 0 };

  async function ledgerSize(): Promise<typeof size> {
    if (performance.now() - size.at < SIZE_MILLISECONDS) return size;
    const { rows } = await pool.query<{ blocks: number; bytes: number }>(
      'SELECT ledger_blocks() AS blocks, ledger_bytes() AS bytes',
    );
    size = { at: performance.now(), ...rows[0]! };
    return size;
  }

  router.get('/desk', guard.needs('read'), async (_request, response) => {
    await catalogue.refresh();
    const [totals, ledger, newest, setAside, quarantined] = await Promise.all([
      pool.query<Totals>(
        `SELECT p.posted_samples AS posted,
                (SELECT coalesce(sum(samples), 0)::bigint FROM journal_entry j WHERE j.id > p.entry) AS unposted,
                (SELECT received_at FROM journal_entry ORDER BY id DESC LIMIT 1) AS last_at
         FROM posting p`,
      ),
      ledgerSize(),
      jobs.list(5),
      newestSetAside(database, 5),
      quarantine.open(5),
    ]);
    const { posted, unposted, last_at } = totals.rows[0]!;
    const sources = sourcesWithState(catalogue, collectors);
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
      jobs: newest,
      setAside,
      quarantine: quarantined,
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
  if (posting.trouble)
    concerns.push({ weight: 'failure', sentence: `Posting is waiting: ${posting.trouble}`, to: '/' });
  if (desk.quarantine.length > 0) {
    const [first] = desk.quarantine;
    const many = desk.quarantine.length === 1 ? 'An entry is' : 'Entries are';
    const sentence = `${many} in quarantine, with ${first!.samples} values of ${first!.tags.slice(0, 3).join(', ')}.`;
    concerns.push({ weight: 'failure', sentence, to: '/#quarantine' });
  }
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
    else if (collector.trouble !== null)
      concerns.push({ weight: 'failure', sentence: collector.trouble, to: '/sources' });
    else if (collector.putAwayEntries > 0) {
      const many = collector.putAwayEntries === 1 ? 'an entry' : `${collector.putAwayEntries} entries`;
      const sentence = `Collector ${collector.name} has put away ${many} that this server refuses for good.`;
      concerns.push({ weight: 'failure', sentence, to: '/sources' });
    } else if (collector.spooledEntries > 20) {
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
