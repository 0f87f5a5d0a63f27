/** The archive wing: what was recorded. */
import { Router } from 'express';
import { tagRoutes, type Configuration } from '../configuration/index.ts';
import type { Ground, ThreadPrograms } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { annotationRoutes } from './annotations/routes.ts';
import { Coverage } from './coverage/coverage.ts';
import { coverageRoutes } from './coverage/routes.ts';
import { CurrentValues } from './current/currentValues.ts';
import { liveRoutes } from './current/routes.ts';
import { Journal } from './journal/journal.ts';
import { journalRoutes } from './journal/routes.ts';
import { StoreKeeper } from './keeping/keeper.ts';
import { storeRoutes } from './keeping/routes.ts';
import { PostingThread } from './ledger/postingThread.ts';
import { correctionRoutes } from './modified/corrections.ts';
import { Quarantine } from './quarantine/quarantine.ts';
import { quarantineRoutes } from './quarantine/routes.ts';
import { ReadingPool } from './reading/pool.ts';
import { readingRoutes } from './reading/routes.ts';
import { identifyHome, prepareKnownStores } from './stores/prepare.ts';
import { Stores } from './stores/stores.ts';

export { admitSamples, type RefusedSample } from './journal/admission.ts';
export { Journal } from './journal/journal.ts';
export { newestSetAside } from './journal/setAside.ts';
export { Posting } from './ledger/posting.ts';
export { type PostingThread } from './ledger/postingThread.ts';
export { type Quarantine } from './quarantine/quarantine.ts';
export { standingFrames } from './reading/standing.ts';
export { type Stores } from './stores/stores.ts';

export interface Archive {
  readonly stores: Stores;
  readonly journal: Journal;
  readonly posting: PostingThread;
  readonly quarantine: Quarantine;
  readonly routes: Router;
  /** Begins what goes on by itself. */
  start(): void;
  close(): Promise<void>;
}

/**
 * @param isArriving whether a source is being watched by a collector that reports: what its coverage misses at the end is
 * on its way.
 */
export async function openArchive(
  ground: Ground,
  { guard, logbook }: People,
  { catalogue, forcing }: Configuration,
  programs: ThreadPrograms,
  isArriving: (source: number) => boolean,
): Promise<Archive> {
  const { database, settings, seal, sealKey, schemaFolder, jobs, log } = ground;
  await identifyHome(database.pool);
  for (const { name, failure } of await prepareKnownStores(database.pool, seal, schemaFolder, log)) {
    log.warn({ store: name, failure }, 'a store does not answer');
  }
  const stores = new Stores(database.pool, seal, log);
  const journal = new Journal(database);
  await journal.prepareDays();
  const current = new CurrentValues(stores);
  journal.listen((frame) => current.note(frame));
  const coverage = new Coverage(database, catalogue, isArriving);
  const quarantine = new Quarantine(database, catalogue, journal);
  const threadSettings = { databaseUrl: settings.DATABASE_URL, sealKey, logLevel: settings.WIDE_LEDGER_LOG };
  const reading = new ReadingPool(programs.reading, threadSettings);
  const posting = new PostingThread(programs.posting, threadSettings);
  const keeper = new StoreKeeper(stores, forcing, jobs, settings.WIDE_LEDGER_JOURNAL_DAYS, log);
  forcing.register(keeper.followingConfiguration());
  const routes = Router().use(
    journalRoutes(catalogue, journal, guard),
    liveRoutes(catalogue, current, guard),
    tagRoutes(forcing, current, guard),
    readingRoutes(catalogue, coverage, reading, guard),
    correctionRoutes(catalogue, stores, journal, current, logbook, guard),
    annotationRoutes(catalogue, stores, logbook, guard),
    storeRoutes({ ground, guard, forcing, stores }),
    quarantineRoutes(quarantine, catalogue, logbook, guard),
    coverageRoutes(database.pool, catalogue, coverage, guard),
  );
  return {
    stores,
    journal,
    posting,
    quarantine,
    routes,
    start: () => keeper.start(),
    async close() {
      keeper.stop();
      await Promise.all([posting.stop(), reading.close()]);
      await stores.close();
    },
  };
}
