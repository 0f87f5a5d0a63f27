import { notFound } from '../../ground/index.ts';
import type { Catalogue, TagRow } from '../catalogue/catalogue.ts';

/** A tag by its name, also one that another server has made just now. @throws a problem when there is none. */
export async function findTag(catalogue: Catalogue, name: string): Promise<TagRow> {
  if (!catalogue.tagByName(name)) await catalogue.refresh();
  const row = catalogue.tagByName(name) ?? catalogue.tagOnceNamed(name);
  if (!row) throw notFound(`There is no tag "${name}".`);
  return row;
}
