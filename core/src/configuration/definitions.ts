/** What is configured: definitions, each of a kind, with a body of plain values. */

/** The kinds of definitions, in an order in which each refers only to those before it. */
export const DEFINITION_KINDS = ['place', 'pace', 'store', 'source', 'family', 'tag', 'link'] as const;
export type DefinitionKind = (typeof DEFINITION_KINDS)[number];

/** What JSON can hold. A field that is absent and one that is null are two different things. */
export type Plain = null | boolean | number | string | readonly Plain[] | { readonly [name: string]: Plain };

/** The fields of a definition. References to other definitions are their numbers, never their names. */
export type Body = Readonly<Record<string, Plain>>;

/** A definition by its kind and number. */
export interface DefinitionKey {
  readonly kind: DefinitionKind;
  readonly id: number;
}

/** What becomes of one definition: null before is a new one, null after is one that is retired. */
export interface Change extends DefinitionKey {
  readonly before: Body | null;
  readonly after: Body | null;
}

/** What a definition is called; empty while it has no name. */
export const nameIn = (body: Body | null | undefined): string => (typeof body?.name === 'string' ? body.name : '');

/** A body's own field; undefined where it is absent, also where every object has something of that name. */
export const ownField = (body: Body, name: string): Plain | undefined =>
  Object.hasOwn(body, name) ? body[name] : undefined;

export const isObject = (value: Plain | undefined): value is Body =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Whether two plain values say the same; the order of an object's fields does not matter. */
export function samePlain(a: Plain | undefined, b: Plain | undefined): boolean {
  if (a === b) return true;
  if (Array.isArray(a)) {
    return Array.isArray(b) && a.length === b.length && a.every((one, i) => samePlain(one as Plain, b[i] as Plain));
  }
  if (!isObject(a) || !isObject(b)) return false;
  const names = Object.keys(a);
  return (
    names.length === Object.keys(b).length &&
    names.every((name) => Object.hasOwn(b, name) && samePlain(a[name], b[name]))
  );
}
