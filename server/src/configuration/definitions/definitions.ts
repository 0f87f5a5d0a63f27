/** Definitions in the database: what is in force, and what was under an earlier version. */
import { DEFINITION_KINDS, type Body, type DefinitionKey, type DefinitionKind } from '@wide-ledger/core';
import type { Pool, PoolClient } from 'pg';

export type Asked = Pool | PoolClient;

export const keyOf = ({ kind, id }: DefinitionKey): string => `${kind} ${id}`;

/** Numbers of definitions by their kind, for queries. */
export function idsByKind(keys: readonly DefinitionKey[]): Map<DefinitionKind, number[]> {
  const byKind = new Map<DefinitionKind, number[]>();
  for (const { kind, id } of keys) {
    const known = byKind.get(kind);
    if (known) known.push(id);
    else byKind.set(kind, [id]);
  }
  return byKind;
}

/** The bodies in force of definitions; those that are not there, or retired, are left out. */
export async function bodiesInForce(asked: Asked, keys: readonly DefinitionKey[]): Promise<Map<string, Body>> {
  const bodies = new Map<string, Body>();
  for (const [kind, ids] of idsByKind(keys)) {
    const { rows } = await asked.query<{ id: number; body: Body }>(
      'SELECT id, body FROM definition WHERE kind = $1 AND id = ANY($2::int[]) AND version_to IS NULL',
      [kind, ids],
    );
    for (const { id, body } of rows) bodies.set(keyOf({ kind, id }), body);
  }
  return bodies;
}

/** The bodies that were in force under a version. */
export async function bodiesUnder(
  asked: Asked,
  version: number,
  keys: readonly DefinitionKey[],
): Promise<Map<string, Body>> {
  const bodies = new Map<string, Body>();
  for (const [kind, ids] of idsByKind(keys)) {
    const { rows } = await asked.query<{ id: number; body: Body }>(
      `SELECT id, body FROM definition WHERE kind = $1 AND id = ANY($2::int[])
         AND version_from <= $3 AND (version_to IS NULL OR version_to > $3)`,
      [kind, ids, version],
    );
    for (const { id, body } of rows) bodies.set(keyOf({ kind, id }), body);
  }
  return bodies;
}

/** The definitions that one of the versions after `from`, up to `to`, changed; in the order of the kinds. */
export async function changedBetween(asked: Asked, from: number, to: number): Promise<DefinitionKey[]> {
  const { rows } = await asked.query<DefinitionKey>(
    `SELECT kind, id FROM definition WHERE version_from > $1 AND version_from <= $2
     UNION SELECT kind, id FROM definition WHERE version_to > $1 AND version_to <= $2 ORDER BY kind, id`,
    [from, to],
  );
  return inOrderOfKinds(rows);
}

/** Definitions so that each refers only to those before it. */
export const inOrderOfKinds = <Key extends DefinitionKey>(keys: readonly Key[]): Key[] =>
  [...keys].sort((a, b) => DEFINITION_KINDS.indexOf(a.kind) - DEFINITION_KINDS.indexOf(b.kind) || a.id - b.id);

/** New numbers for definitions of a kind; numbers that end up unused are never used again. */
export async function newIds(asked: Asked, kind: DefinitionKind, count: number): Promise<number[]> {
  if (count === 0) return [];
  const { rows } = await asked.query<{ id: number }>(
    `SELECT nextval(pg_get_serial_sequence($1, 'id'))::int AS id FROM generate_series(1, $2)`,
    [kind, count],
  );
  return rows.map(({ id }) => id);
}
