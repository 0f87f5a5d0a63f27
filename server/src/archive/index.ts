/** The archive wing: what was recorded. */
import { tagCalls, type Configuration } from '../configuration/index.ts';
import { Calls, type Ground, type ThreadPrograms } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { annotationCalls } from './annotations/calls.ts';
import { Coverage } from './coverage/coverage.ts';
import { explanationCalls } from './coverage/explanationCalls.ts';
import { coverageCalls } from './reading/coverageCalls.ts';
import { CurrentValues } from './current/currentValues.ts';
import { liveCalls } from './current/calls.ts';
import { computationCalls } from './deriving/calls.ts';
import { Computations } from './deriving/computations.ts';
import { Deriving } from './deriving/deriving.ts';
import { doubtCalls } from './doubts/calls.ts';
import { Examinations } from './doubts/examinations.ts';
import { Journal } from './journal/journal.ts';
import { journalCalls } from './journal/calls.ts';
import { StoreKeeper } from './keeping/keeper.ts';
import { storeCalls } from './keeping/calls.ts';
import { PostingThread } from './ledger/postingThread.ts';
import { correctionCalls } from './modified/corrections.ts';
import { Quarantine } from './quarantine/quarantine.ts';
import { quarantineCalls } from './quarantine/calls.ts';
import { AskedTags } from './reading/askedTags.ts';
import { exportCalls } from './reading/exportCalls.ts';
import { ReadingPool } from './reading/pool.ts';
import { readingCalls } from './reading/calls.ts';
import { tallyCalls } from './reading/tallyCalls.ts';
import { identifyHome, prepareKnownStores } from './stores/prepare.ts';
import { Stores } from './stores/stores.ts';

export { type Coverage } from './coverage/coverage.ts';
export { SILENT_SECONDS } from './coverage/records.ts';
export { type MissingOfTag } from './coverage/missing.ts';
export { admitFrame, mayRemove, type RefusedSample } from './journal/admission.ts';
export { readable } from './journal/readable.ts';
export { admitManySamples } from './journal/sampleAdmission.ts';
export { Journal, type NewEntry } from './journal/journal.ts';
export { countSetAside, newestSetAside } from './journal/setAside.ts';
export { Posting } from './ledger/posting.ts';
export { type Deriving } from './deriving/deriving.ts';
export { type PostingThread } from './ledger/postingThread.ts';
export { type Quarantine } from './quarantine/quarantine.ts';
export type { FilledLine, HolesOfTag } from './reading/filled.ts';
export { standingOf, standingOfMany, type StandingAsked } from './reading/standingOfMany.ts';
export { rawFile } from './reading/rawFile.ts';
export { summariesOf, type SummarisedTag } from './reading/summariesOf.ts';
export { talliesOf } from './reading/talliesOf.ts';
export { type Stores } from './stores/stores.ts';

export interface Archive {
  readonly stores: Stores;
  readonly coverage: Coverage;
  readonly journal: Journal;
  readonly posting: PostingThread;
  readonly deriving: Deriving;
  readonly quarantine: Quarantine;
  readonly reading: ReadingPool;
  readonly calls: Calls;
  /** Begins what goes on by itself. */
  start(): void;
  close(): Promise<void>;
}

/**
 * @param arriving the sources that a collector which reports is watching: what their coverage misses at the end is on its
 * way.
 */
export async function openArchive(
  ground: Ground,
  { keys, logbook }: People,
  { catalogue, forcing }: Configuration,
  programs: ThreadPrograms,
  arriving: () => readonly number[],
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
  const coverage = new Coverage(database.pool, arriving);
  const asked = new AskedTags(catalogue, coverage);
  const quarantine = new Quarantine(database, catalogue, journal);
  const threadSettings = { databaseUrl: settings.DATABASE_URL, sealKey, logLevel: settings.WIDE_LEDGER_LOG };
  const reading = new ReadingPool(programs.reading, threadSettings);
  const posting = new PostingThread(programs.posting, threadSettings);
  const deriving = new Deriving(programs.deriving, threadSettings, catalogue, journal);
  journal.keepFor(() => deriving.neededAfter(database.pool));
  const keeper = new StoreKeeper(stores, forcing, jobs, journal, settings.WIDE_LEDGER_JOURNAL_DAYS, log);
  forcing.register(keeper.followingConfiguration());
  const calls = new Calls(
    journalCalls(catalogue, journal, keys),
    liveCalls(catalogue, current),
    tagCalls(forcing, current),
    readingCalls(catalogue, coverage, asked, reading),
    exportCalls(asked, reading),
    tallyCalls(catalogue, reading),
    correctionCalls(catalogue, stores, journal, current, logbook),
    annotationCalls(catalogue, stores, logbook),
    storeCalls({ ground, forcing, stores }),
    quarantineCalls(quarantine, catalogue, logbook),
    coverageCalls(catalogue, coverage, reading, settings),
    explanationCalls(database.pool, catalogue, logbook),
    computationCalls(catalogue, new Computations(database.pool, catalogue, deriving, journal, jobs), logbook),
    doubtCalls(database.pool, catalogue, new Examinations(catalogue, coverage, reading, jobs), logbook),
  );
  return {
    stores,
    coverage,
    journal,
    posting,
    deriving,
    quarantine,
    reading,
    calls,
    start: () => keeper.start(),
    async close() {
      keeper.stop();
      await deriving.stop();
      await Promise.all([posting.stop(), reading.close()]);
      await stores.close();
    },
  };
}
