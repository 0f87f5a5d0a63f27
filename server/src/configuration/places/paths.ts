/** Places by their paths, `site / area / unit`. */
import { newIds, type Asked } from '../definitions/definitions.ts';
import type { Wish } from '../force/settle.ts';

/** The names along a path; none for an empty one. */
const namesOf = (path: string): string[] =>
  path
    .split('/')
    .map((name) => name.trim())
    .filter(Boolean);

/** The places that some paths stand for; those that are not there yet as wishes, the outer ones first. */
export async function placesFor(
  asked: Asked,
  paths: readonly string[],
): Promise<{ wishes: Wish[]; idOf: (path: string) => number | null }> {
  const { rows } = await asked.query<{ id: number; path: string }>('SELECT id, path FROM place WHERE NOT retired');
  const ids = new Map(rows.map(({ path, id }) => [path, id]));
  const missing = new Set<string>();
  for (const path of new Set(paths)) {
    const names = namesOf(path);
    for (let n = 1; n <= names.length; n++) {
      const part = names.slice(0, n).join(' / ');
      if (!ids.has(part)) missing.add(part);
    }
  }
  const numbers = await newIds(asked, 'place', missing.size);
  [...missing].forEach((path, i) => ids.set(path, numbers[i]!));
  const wishes = [...missing].map((path): Wish => {
    const names = namesOf(path);
    const parent = names.length > 1 ? ids.get(names.slice(0, -1).join(' / '))! : null;
    return { kind: 'place', id: ids.get(path)!, base: null, body: { name: names.at(-1)!, parent } };
  });
  return { wishes, idOf: (path) => ids.get(namesOf(path).join(' / ')) ?? null };
}
