/** The field wing: towards the plant. */
import { Router } from 'express';
import type { Configuration } from '../configuration/index.ts';
import type { Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { benchRoutes } from './bench/routes.ts';
import { Collectors } from './collectors/collectors.ts';
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
  { catalogue, forcing }: Configuration,
  collectors: Collectors,
): Field {
  const routes = Router().use(
    sourceRoutes(forcing, collectors, guard),
    collectorRoutes(database.pool, catalogue, collectors, guard),
    benchRoutes(settings.WIDE_LEDGER_BENCH_URL, logbook, guard),
  );
  return { collectors, routes };
}
