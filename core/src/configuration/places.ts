/** Places: a tree of sites, areas and units. */
import type { NamingRules } from '../names/rules.ts';
import { isObject, type Body, type Plain } from './definitions.ts';

/** Whether a place is another one, or lies in it; all lie in none. */
export const liesIn = (place: string, outer: string): boolean =>
  outer === '' || place === outer || place.startsWith(`${outer} / `);

/**
 * The rules that names of tags in a place have to keep: its own, else those of what it lies in; null: there are none.
 * @param bodyOf a place by its number
 */
export function rulesOf(place: Plain | undefined, bodyOf: (id: number) => Body | undefined): NamingRules | null {
  const met = new Set<number>();
  for (let at = place; typeof at === 'number' && !met.has(at);) {
    met.add(at);
    const body = bodyOf(at);
    if (isObject(body?.names)) return rulesIn(body.names);
    at = body?.parent;
  }
  return null;
}

/** Rules as a draft may hold them: what was not said yet, or is none, asks for nothing. */
function rulesIn({ begins, signs, capitals, longest, letters, binding }: Body): NamingRules {
  return {
    begins: typeof begins === 'string' ? begins : '',
    signs: typeof signs === 'string' ? signs : null,
    capitals: capitals === true,
    longest: typeof longest === 'number' ? longest : null,
    letters: letters === true,
    binding: binding === true,
  };
}
