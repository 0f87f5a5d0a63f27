/** The people wing: who may do what. */
import { keyFile } from '@wide-ledger/vault';
import { Calls, type Ground } from '../ground/index.ts';
import { prepareAdministrator } from './accounts/administrator.ts';
import { Guard } from './guard/guard.ts';
import { keyCalls } from './keys/calls.ts';
import { Keys } from './keys/keys.ts';
import { logbookCalls } from './logbook/calls.ts';
import { Logbook } from './logbook/logbook.ts';
import { readerCalls } from './reader/calls.ts';
import { ReaderRole } from './reader/reader.ts';
import { sessionCalls } from './sessions/calls.ts';
import { SessionCookie } from './sessions/cookie.ts';
import { Sessions } from './sessions/sessions.ts';

export { visitorOf, type Visitor } from './visitors/visitor.ts';
export { type Keys } from './keys/keys.ts';
export { digestOfList } from './logbook/chain.ts';
export { BY_ITSELF, doerOf, type Deed, type Doer, type Logbook } from './logbook/logbook.ts';

export interface People {
  readonly guard: Guard;
  readonly keys: Keys;
  readonly logbook: Logbook;
  readonly calls: Calls;
  close(): void;
}

/** Opens the people wing: accounts, sessions, keys, the guard, the logbook, and the role for SQL tools. */
export async function openPeople({ database, settings, seal, log }: Ground): Promise<People> {
  const { pool } = database;
  if (settings.WIDE_LEDGER_ADMIN_PASSWORD) await prepareAdministrator(database, settings.WIDE_LEDGER_ADMIN_PASSWORD);
  const sessions = new Sessions(pool);
  const keys = new Keys(pool);
  const cookie = new SessionCookie(keyFile(settings.WIDE_LEDGER_DATA, 'session.key'));
  const guard = new Guard(sessions, cookie, keys);
  const logbook = new Logbook(pool);
  const reader = new ReaderRole(pool, seal, settings.WIDE_LEDGER_READER, log);
  if (settings.WIDE_LEDGER_READER_PASSWORD) await reader.prepare(settings.WIDE_LEDGER_READER_PASSWORD);
  const calls = new Calls(
    sessionCalls(database, sessions, cookie, logbook),
    keyCalls(keys, logbook),
    logbookCalls(logbook),
    readerCalls(reader, logbook),
  );
  return { guard, keys, logbook, calls, close: () => reader.stop() };
}
