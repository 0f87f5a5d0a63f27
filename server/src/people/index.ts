/** The people wing: who may do what. */
import { Router } from 'express';
import { keyFile } from '@wide-ledger/vault';
import type { Ground } from '../ground/index.ts';
import { prepareAdministrator } from './accounts/administrator.ts';
import { Guard } from './guard/guard.ts';
import { keyRoutes } from './keys/routes.ts';
import { Logbook } from './logbook/logbook.ts';
import { logbookRoutes } from './logbook/routes.ts';
import { sessionRoutes } from './sessions/routes.ts';

export { visitorOf, type Guard } from './guard/guard.ts';
export { digestOf } from './logbook/chain.ts';
export { BY_ITSELF, doerOf, type Doer, type Logbook } from './logbook/logbook.ts';

export interface People {
  readonly guard: Guard;
  readonly logbook: Logbook;
  readonly routes: Router;
}

/** Opens the people wing: accounts, sessions, keys, the guard and the logbook. */
export async function openPeople({ database, settings }: Ground): Promise<People> {
  if (settings.WIDE_LEDGER_ADMIN_PASSWORD) await prepareAdministrator(database, settings.WIDE_LEDGER_ADMIN_PASSWORD);
  const guard = new Guard(database, keyFile(settings.WIDE_LEDGER_DATA, 'session.key'));
  const logbook = new Logbook(database.pool);
  const routes = Router().use(
    sessionRoutes(database, guard, logbook),
    keyRoutes(database, guard, logbook),
    logbookRoutes(logbook, guard),
  );
  return { guard, logbook, routes };
}
