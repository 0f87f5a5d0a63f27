/** The people wing: who may do what. */
import { Router } from 'express';
import { keyFile, type Ground } from '../ground/index.ts';
import { prepareAdministrator } from './accounts/administrator.ts';
import { Guard } from './guard/guard.ts';
import { keyRoutes } from './keys/routes.ts';
import { sessionRoutes } from './sessions/routes.ts';

export { visitorOf, type Guard } from './guard/guard.ts';

export interface People {
  readonly guard: Guard;
  readonly routes: Router;
}

/** Opens the people wing: accounts, sessions, keys, and the guard. */
export async function openPeople({ database, settings }: Ground): Promise<People> {
  if (settings.WIDE_LEDGER_ADMIN_PASSWORD) await prepareAdministrator(database, settings.WIDE_LEDGER_ADMIN_PASSWORD);
  const guard = new Guard(database, keyFile(settings.WIDE_LEDGER_DATA, 'session.key'));
  const routes = Router().use(sessionRoutes(database, guard), keyRoutes(database, guard));
  return { guard, routes };
}
