/** What is in force beside some changes, as far as their checks need it. */
import {
  nameIn,
  referencesOf,
  type Body,
  type Change,
  type DefinitionKey,
  type DefinitionKind,
  type Standing,
} from '@wide-ledger/core';
import { bodiesInForce, idsByKind, keyOf, type Asked } from '../definitions/definitions.ts';

/** Reads all that {@link Standing} will be asked about these changes. */
export async function standingFor(asked: Asked, changes: readonly Change[]): Promise<Standing> {
  // One after the other: within a transaction there is one connection.
  const bodies = await bodiesAround(asked, changes);
  const names = await namesTaken(asked, changes);
  const spelt = await tagsSpelt(asked, changes);
  const dependants = await dependantsOf(asked, changes);
  const owners = [...names].map(([name, id]): DefinitionKey => ({ kind: kindIn(name), id }));
  const alike = [...spelt.values()].flat().map((id): DefinitionKey => ({ kind: 'tag', id }));
  for (const [key, body] of await bodiesInForce(
    asked,
    [...owners, ...alike].filter((one) => !bodies.has(keyOf(one))),
  ))
    bodies.set(key, body);
  return {
    body: (kind, id) => bodies.get(keyOf({ kind, id })),
    idByName: (kind, name) => names.get(`${kind} ${name}`),
    tagsSpelt: (spelling) => spelt.get(spelling) ?? [],
    dependants: (key) => dependants.get(keyOf(key)) ?? 0,
  };
}

/** What the changes refer to, all places, whose rules hold for what lies in them, and computed tags, which are made of each other. */
async function bodiesAround(asked: Asked, changes: readonly Change[]): Promise<Map<string, Body>> {
  const referred = new Map<string, DefinitionKey>();
  for (const { kind, after } of changes) {
    if (after) for (const { to } of referencesOf(kind, after)) referred.set(keyOf(to), to);
  }
  const bodies = await bodiesInForce(asked, [...referred.values()]);
  if (changes.some(({ kind, after }) => after !== null && (kind === 'place' || kind === 'tag'))) {
    const { rows } = await asked.query<{ id: number; body: Body }>(
      "SELECT id, body FROM definition WHERE kind = 'place' AND version_to IS NULL",
    );
    for (const { id, body } of rows) bodies.set(keyOf({ kind: 'place', id }), body);
  }
  if (changes.some(({ kind, after }) => kind === 'tag' && after?.formula !== undefined)) {
    // A circle may lead over any of those that are computed.
    const { rows } = await asked.query<{ id: number; body: Body }>(
      `SELECT d.id, d.body FROM tag t JOIN definition d ON d.kind = 'tag' AND d.id = t.id AND d.version_to IS NULL
       WHERE t.inputs IS NOT NULL AND t.retired_at IS NULL`,
    );
    for (const { id, body } of rows) bodies.set(keyOf({ kind: 'tag', id }), body);
  }
  return bodies;
}

/** Tables in which names are unique, those of retired definitions included. */
const NAMED: readonly (readonly [DefinitionKind, string])[] = [
  ['pace', 'SELECT id, name FROM pace WHERE name = ANY($1)'],
  ['store', 'SELECT id, name FROM store WHERE name = ANY($1)'],
  ['source', 'SELECT id, name FROM source WHERE name = ANY($1)'],
  ['family', 'SELECT id, name FROM family WHERE name = ANY($1)'],
  ['tag', 'SELECT id, name FROM tag WHERE name = ANY($1)'],
  ['link', 'SELECT id, name FROM link WHERE name = ANY($1)'],
];

/** The names that changes claim; who keeps a name has it already. */
const claimedBy = (kind: DefinitionKind, changes: readonly Change[]): string[] =>
  changes.flatMap(({ kind: own, before, after }) =>
    own === kind && after && nameIn(after) !== nameIn(before) ? [nameIn(after)] : [],
  );

async function namesTaken(asked: Asked, changes: readonly Change[]): Promise<Map<string, number>> {
  const taken = new Map<string, number>();
  for (const [kind, query] of NAMED) {
    const claimed = claimedBy(kind, changes);
    if (claimed.length === 0) continue;
    const { rows } = await asked.query<{ id: number; name: string }>(query, [claimed]);
    for (const { id, name } of rows) taken.set(`${kind} ${name}`, id);
  }
  if (changes.some(({ kind }) => kind === 'place')) {
    const { rows } = await asked.query<{ id: number; path: string }>('SELECT id, path FROM place WHERE NOT retired');
    for (const { id, path } of rows) taken.set(`place ${path}`, id);
  }
  return taken;
}

const kindIn = (name: string): DefinitionKind => name.slice(0, name.indexOf(' ')) as DefinitionKind;

/** Tags in force by their names in small letters, of those that the changes claim. */
async function tagsSpelt(asked: Asked, changes: readonly Change[]): Promise<ReadonlyMap<string, readonly number[]>> {
  const spelt = new Map<string, number[]>();
  const claimed = claimedBy('tag', changes);
  if (claimed.length === 0) return spelt;
  const { rows } = await asked.query<{ id: number; spelling: string }>(
    'SELECT id, lower(name) AS spelling FROM tag WHERE retired_at IS NULL AND lower(name) = ANY($1) AND name <> ALL($2)',
    [claimed.map((name) => name.toLowerCase()), claimed],
  );
  for (const { id, spelling } of rows) spelt.set(spelling, [...(spelt.get(spelling) ?? []), id]);
  return spelt;
}

/** Columns that refer to definitions of a kind, out of definitions in force. */
const REFERRING: readonly (readonly [DefinitionKind, DefinitionKind, string])[] = [
  ['place', 'place', 'SELECT id, parent_id AS "to" FROM place WHERE NOT retired AND parent_id = ANY($1)'],
  ['place', 'tag', 'SELECT id, place_id AS "to" FROM tag WHERE retired_at IS NULL AND place_id = ANY($1)'],
  ['pace', 'tag', 'SELECT id, pace_id AS "to" FROM tag WHERE retired_at IS NULL AND pace_id = ANY($1)'],
  [
    'tag',
    'tag',
    `SELECT t.id, i.value::int AS "to" FROM tag t, jsonb_each_text(t.inputs) AS i
     WHERE t.inputs IS NOT NULL AND t.retired_at IS NULL AND i.value::int = ANY($1)`,
  ],
  ['family', 'tag', 'SELECT id, family_id AS "to" FROM tag WHERE retired_at IS NULL AND family_id = ANY($1)'],
  ['source', 'tag', 'SELECT id, source_id AS "to" FROM tag WHERE retired_at IS NULL AND source_id = ANY($1)'],
];

async function dependantsOf(asked: Asked, changes: readonly Change[]): Promise<Map<string, number>> {
  const touched = new Set(changes.map(keyOf));
  const retiring = idsByKind(changes.filter(({ after }) => after === null));
  const counts = new Map<string, number>();
  for (const [kind, from, query] of REFERRING) {
    const ids = retiring.get(kind);
    if (!ids) continue;
    const { rows } = await asked.query<{ id: number; to: number }>(query, [ids]);
    for (const { id, to } of rows) {
      if (touched.has(keyOf({ kind: from, id }))) continue;
      const key = keyOf({ kind, id: to });
      counts.set(key, (counts.get(key) ?? 0) + 1);
    }
  }
  return counts;
}
