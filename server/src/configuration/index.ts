/** The configuration wing: what is meant to be. */
import { Router } from 'express';
import type { Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { noteVersions } from './versions/noted.ts';
import { Catalogue } from './catalogue/catalogue.ts';
import { definitionRoutes } from './drafts/definitionRoutes.ts';
import { Drafts } from './drafts/drafts.ts';
import { draftRoutes } from './drafts/routes.ts';
import { Forcing } from './force/forcing.ts';
import { secretRoutes } from './secrets/routes.ts';
import { Secrets } from './secrets/secrets.ts';
import { versionRoutes } from './versions/routes.ts';

export { EMBEDDED, type DeclaredStore } from './stores/declared.ts';
export { type Catalogue, type SourceRow, type TagRow } from './catalogue/catalogue.ts';
export { bodiesInForce, keyOf, newIds } from './definitions/definitions.ts';
export { type Forcing } from './force/forcing.ts';
export { type OpenSecrets, type Secrets } from './secrets/secrets.ts';
export { findTag } from './tags/find.ts';
export { type LatestValues } from './tags/describe.ts';
export { tagRoutes } from './tags/routes.ts';

export interface Configuration {
  readonly catalogue: Catalogue;
  /** The one way in. */
  readonly forcing: Forcing;
  readonly secrets: Secrets;
  readonly routes: Router;
}

/** Opens the configuration wing on the site's database. */
export async function openConfiguration(
  { database, seal }: Ground,
  { guard, logbook }: People,
): Promise<Configuration> {
  const catalogue = new Catalogue(database);
  await catalogue.refresh();
  const forcing = new Forcing(database.pool, catalogue);
  noteVersions(forcing, logbook);
  const secrets = new Secrets(database.pool, seal);
  const drafts = new Drafts(database.pool);
  const routes = Router().use(
    definitionRoutes(database.pool, drafts, guard),
    draftRoutes(drafts, forcing, guard),
    versionRoutes(database.pool, guard),
    secretRoutes(secrets, logbook, guard),
  );
  return { catalogue, forcing, secrets, routes };
}
