/** Changes in words: what fields are called, and names in the place of numbers. */
import { SECRET_FIELDS, fieldTitle, type FieldDifference, type ItemChange } from '@wide-ledger/contract';
import {
  DEFINITION_KINDS,
  diff,
  isObject,
  plainWords,
  referencesOf,
  type Body,
  type Change,
  type DefinitionKey,
  type DefinitionKind,
  type FieldPath,
  type Plain,
} from '@wide-ledger/core';
import { bodiesInForce, keyOf, type Asked } from '../definitions/definitions.ts';
import { nameOf, outcomeOf } from './force.ts';

/** Turns values of fields into words. */
export interface Words {
  readonly value: (kind: DefinitionKind, path: FieldPath, value: Plain | undefined) => string;
  readonly title: (kind: DefinitionKind, path: FieldPath) => string;
}

/** Of a secret there is nothing to show but that it is one, and another than before. */
const secretIn = (path: FieldPath, id: number): string | undefined =>
  SECRET_FIELDS.some((field) => field === path.at(-1)) ? `secret ${id}` : undefined;

/** Words for changes: knows the names of all that they refer to, before and after. */
export async function wordsFor(asked: Asked, changes: readonly Change[]): Promise<Words> {
  const referred = new Map<string, DefinitionKey>();
  for (const { kind, before, after } of changes) {
    for (const body of [before, after]) {
      if (body) for (const { to } of referencesOf(kind, body)) referred.set(keyOf(to), to);
    }
  }
  const bodies = await bodiesInForce(asked, [...referred.values()]);
  for (const { kind, id, before, after } of changes) {
    const body = after ?? before;
    if (body) bodies.set(keyOf({ kind, id }), body);
  }
  const referenceIn = (kind: DefinitionKind, [field, ...below]: FieldPath, id: number): string | undefined => {
    // The inputs of a formula are references, too, each by its name.
    if (field === undefined || (below.length > 0 && field !== 'inputs')) return undefined;
    const [reference] = referencesOf(kind, { [field]: field === 'inputs' ? { input: id } : id });
    if (!reference) return undefined;
    const name = bodies.get(keyOf(reference.to))?.name;
    return typeof name === 'string' ? name : `number ${id}`;
  };
  const titles = new Map<string, string>();
  const wordsOf = (kind: DefinitionKind, path: FieldPath, value: Plain | undefined): string => {
    if (path.length === 1 && path[0] === 'inputs' && isObject(value))
      return Object.entries(value)
        .map(([input, id]) => `${input}: ${wordsOf(kind, ['inputs', input], id)}`)
        .join(', ');
    const referred = typeof value === 'number' ? (secretIn(path, value) ?? referenceIn(kind, path, value)) : undefined;
    return referred ?? plainWords(path, value);
  };
  return {
    value: wordsOf,
    title: (kind, path) => {
      const key = `${kind} ${path.join('.')}`;
      const known = titles.get(key) ?? fieldTitle(kind, path);
      titles.set(key, known);
      return known;
    },
  };
}

/** A change as the review and comparisons show it, field by field. A new definition's fields are those it fills in. */
export function itemOf(change: Change, words: Words): ItemChange {
  const { kind, id, before, after } = change;
  const fields = before && after ? diff(before, after) : filledIn(before ?? after ?? {}, before === null);
  return {
    kind,
    id,
    name: nameOf(change),
    what: outcomeOf(change),
    fields: fields.map(({ path, from, to }): FieldDifference => ({
      path: [...path],
      title: words.title(kind, path),
      from: words.value(kind, path, from),
      to: words.value(kind, path, to),
    })),
  };
}

function filledIn(body: Body, isNew: boolean): { path: FieldPath; from: Plain | undefined; to: Plain | undefined }[] {
  // A connection is read field by field; what else is made of parts is short enough to be one.
  const said = diff(isObject(body.connection) ? { connection: {} } : {}, body)
    .filter(({ path }) => path[0] !== 'name')
    .filter(({ to }) => to !== null && to !== '' && to !== false && plainWords([], to) !== 'none');
  return isNew ? said : said.map(({ path, to }) => ({ path, from: to, to: undefined }));
}

/** Changes in the order in which people read them: by kind, then by name. */
export const inReadingOrder = (changes: readonly Change[]): Change[] =>
  [...changes].sort(
    (a, b) =>
      DEFINITION_KINDS.indexOf(a.kind) - DEFINITION_KINDS.indexOf(b.kind) || nameOf(a).localeCompare(nameOf(b), 'en'),
  );
