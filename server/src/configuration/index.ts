/** The configuration wing: what is meant to be. */
import type { Ground } from '../ground/index.ts';
import { Catalogue } from './tags/catalogue.ts';

export { EMBEDDED, type DeclaredStore } from './stores/declared.ts';
export { type Catalogue, type SourceRow, type TagRow } from './tags/catalogue.ts';
export { findTag } from './tags/find.ts';
export { tagRoutes, type LatestValues } from './tags/routes.ts';

export interface Configuration {
  readonly catalogue: Catalogue;
}

/** Opens the configuration wing on the site's database. */
export async function openConfiguration({ database }: Ground): Promise<Configuration> {
  const catalogue = new Catalogue(database);
  await catalogue.refresh();
  return { catalogue };
}
