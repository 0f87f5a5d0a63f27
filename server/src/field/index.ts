/** The field wing: towards the plant. */
import { Router } from 'express';
import type { Configuration } from '../configuration/index.ts';
import type { Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { benchRoutes } from './bench/routes.ts';
import { Collectors } from './collectors/collectors.ts';
import { Questions } from './questions/questions.ts';
import { collectorRoutes } from './collectors/routes.ts';
import { sourceRoutes } from './sources/routes.ts';

export { type Collectors } from './collectors/collectors.ts';
export { sourcesWithState } from './sources/routes.ts';

export interface Field {
  readonly collectors: Collectors;
  readonly routes: Router;
}

/** What the collectors say is kept before anything else is opened: the archive asks whether a source is being watched. */
export const openCollectors = (): Collectors => new Collectors();

/** Opens the field wing: collectors and sources. */
export function openField(
  { settings, database }: Ground,
  { guard, logbook }: People,
  { catalogue, forcing, secrets }: Configuration,
  collectors: Collectors,
): Field {
  const questions = new Questions();
  const routes = Router().use(
    sourceRoutes(forcing, secrets, collectors, questions, guard),
    collectorRoutes(database.pool, catalogue, secrets, collectors, questions, guard),
    benchRoutes(settings.WIDE_LEDGER_BENCH_URL, logbook, guard),
  );
  return { collectors, routes };
}
