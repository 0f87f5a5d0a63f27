/** The configuration wing: what is meant to be. */
import { Calls, type Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import { noteVersions } from './versions/noted.ts';
import { Catalogue } from './catalogue/catalogue.ts';
import { definitionCalls } from './drafts/definitionCalls.ts';
import { Drafts } from './drafts/drafts.ts';
import { draftCalls } from './drafts/calls.ts';
import { registerMapCalls } from './registerMaps/calls.ts';
import { Forcing } from './force/forcing.ts';
import { secretCalls } from './secrets/calls.ts';
import { Secrets } from './secrets/secrets.ts';
import { versionCalls } from './versions/calls.ts';

export { EMBEDDED, type DeclaredStore } from './stores/declared.ts';
export { type Catalogue, type LinkRow, type SourceRow, type TagRow } from './catalogue/catalogue.ts';
export { bodiesInForce, keyOf, newIds } from './definitions/definitions.ts';
export { type Forcing } from './force/forcing.ts';
export { type OpenSecrets, type Secrets } from './secrets/secrets.ts';
export { findTag } from './tags/find.ts';
export { type LatestValues } from './tags/describe.ts';
export { tagCalls } from './tags/calls.ts';
export { createTags, type WantedTag } from './tags/making.ts';
export { tagChangesOf } from './versions/tagChanges.ts';

export interface Configuration {
  readonly catalogue: Catalogue;
  /** The one way in. */
  readonly forcing: Forcing;
  readonly secrets: Secrets;
  readonly calls: Calls;
}

/** Opens the configuration wing on the site's database. */
export async function openConfiguration({ database, seal }: Ground, { logbook }: People): Promise<Configuration> {
  const catalogue = new Catalogue(database);
  await catalogue.refresh();
  const forcing = new Forcing(database.pool, catalogue);
  noteVersions(forcing, logbook);
  const secrets = new Secrets(database.pool, seal);
  const drafts = new Drafts(database.pool);
  const calls = new Calls(
    definitionCalls(database.pool, drafts),
    draftCalls(drafts, forcing),
    versionCalls(database.pool),
    registerMapCalls(database.pool, drafts),
    secretCalls(secrets, logbook),
  );
  return { catalogue, forcing, secrets, calls };
}
