/** The ground wing: what any server needs. */
import { Seal, keyFile } from '@wide-ledger/vault';
import type { Logger } from 'pino';
import { openDatabase, prepareReader, type Database } from './database/connect.ts';
import { Jobs } from './jobs/jobs.ts';
import type { Settings } from './settings/settings.ts';

export { LOCKS, inTransaction, openDatabase, openPool, type Database } from './database/connect.ts';
export { accessKey, account, configuration, pace, place, source, store, tag } from './database/schema.ts';
export { describeInterface, documentPages, documentRoutes } from './documents/openapi.ts';
export { refuseUnknownParameters } from './documents/parameters.ts';
export { ProblemError, badRequest, notFound, problemHandler, sentenceOf } from './http/problem.ts';
export { echoWindow, nowMicros, resolveWindow } from './http/window.ts';
export type { Jobs } from './jobs/jobs.ts';
export { JobLost, type Run } from './jobs/work.ts';
export { jobRoutes } from './jobs/routes.ts';
export { readSettings, type Settings } from './settings/settings.ts';
export { type ThreadPrograms, type ThreadSettings } from './threads/programs.ts';

/** What every other wing stands on. */
export interface Ground {
  readonly settings: Settings;
  readonly database: Database;
  readonly jobs: Jobs;
  readonly seal: Seal;
  readonly sealKey: Uint8Array;
  /** Holds `migrations` and `functions`. */
  readonly schemaFolder: string;
  readonly log: Logger;
}

/** Opens the site's own database and brings its schema up to date. */
export async function openGround(settings: Settings, schemaFolder: string, log: Logger): Promise<Ground> {
  const database = await openDatabase(settings.DATABASE_URL, schemaFolder, log);
  const { WIDE_LEDGER_READER: reader, WIDE_LEDGER_READER_PASSWORD: readerPassword } = settings;
  if (readerPassword) await prepareReader(database, reader, readerPassword, log);
  const sealKey = keyFile(settings.WIDE_LEDGER_DATA, 'seal.key');
  return { settings, database, jobs: new Jobs(database, log), seal: new Seal(sealKey), sealKey, schemaFolder, log };
}
