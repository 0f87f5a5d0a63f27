/** The ground wing: what any server needs. */
import { Seal, keyFile } from '@wide-ledger/vault';
import type { Logger } from 'pino';
import { openDatabase, type Database } from './database/connect.ts';
import { Jobs } from './jobs/jobs.ts';
import type { Settings } from './settings/settings.ts';

export { LOCKS, inTransaction, openDatabase, openPool, type Database } from './database/connect.ts';
export { account, configuration, formerName, link, pace, place, source, store, tag } from './database/schema.ts';
export { documentOf } from './documents/openapi.ts';
export { Calls, DEVICE_JSON, LARGE_JSON, SAMPLES_JSON } from './http/calls.ts';
export { openDoor, type Admit } from './http/door.ts';
export { CrowdedJson } from './json/shape.ts';
export { readJson } from './json/read.ts';
export { listAsJson } from './json/write.ts';
export { refuseUnwritable } from './http/wellFormed.ts';
export { Shared } from './http/shared.ts';
export { Lane, type LaneLimits } from './http/lane.ts';
export { httpServer } from './http/listening.ts';
export { numbering, problemHandler, sentenceOf } from './http/problem.ts';
export { ProblemError, badRequest, notFound } from './http/problemError.ts';
export { idIn, rowNumber } from './http/id.ts';
export { echoWindow, filledWindow, forwardWindow, instantOf, nowMicros, resolveWindow } from './http/window.ts';
export { freeBytes } from './machine/room.ts';
export type { Jobs } from './jobs/jobs.ts';
export { JobLost, type Run } from './jobs/work.ts';
export { jobCalls } from './jobs/calls.ts';
export { readSettings, type Settings } from './settings/settings.ts';
export { stepBack } from './threads/priority.ts';
export { Turns } from './threads/turns.ts';
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
  const sealKey = keyFile(settings.WIDE_LEDGER_DATA, 'seal.key');
  return { settings, database, jobs: new Jobs(database, log), seal: new Seal(sealKey), sealKey, schemaFolder, log };
}
