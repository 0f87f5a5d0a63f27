/** Editing a draft: what each edit makes of the items that it touches. Pure. */
import { BODIES, DEFAULT_PACE, KINDS, SOURCE_KINDS, type DraftChange, type SourceKind } from '@wide-ledger/contract';
import { samePlain, type Body, type DefinitionKey, type DefinitionKind } from '@wide-ledger/core';
import type { z } from 'zod';
import { keyOf } from '../definitions/definitions.ts';
import type { Wish } from '../force/settle.ts';
import { EMBEDDED } from '../stores/declared.ts';

/** Items of a draft by their keys; null: the draft does not touch it. */
export type Items = Map<string, Wish | null>;

/** An edit that cannot be made; the message says why. */
export class UneditableError extends Error {}

/** The definition that an edit of something existing is about. */
export const subjectOf = (change: DraftChange): DefinitionKey | null =>
  'id' in change ? { kind: change.kind, id: change.id } : null;

/** What no schema says of something new: where it is kept, and the kind that it begins as. */
const BEGINNINGS: Readonly<Record<DefinitionKind, Body>> = {
  place: {},
  pace: DEFAULT_PACE,
  store: {},
  source: {},
  family: {},
  tag: { stepped: false, store: EMBEDDED },
  link: {},
};

/** A new definition before anybody says more: what its schema says of absent fields. */
function newBody(kind: DefinitionKind): Body {
  const schema = BODIES[kind];
  const shape: Readonly<Record<string, z.ZodType>> = 'options' in schema ? schema.options[0].shape : schema.shape;
  const defaults = Object.entries(shape).flatMap(([name, field]) => {
    const { success, data } = field.safeParse(undefined);
    return success ? [[name, data as Body[string]] as const] : [];
  });
  return { name: '', ...Object.fromEntries(defaults), ...BEGINNINGS[kind] };
}

/** A new source with what its kind says of a connection, as far as nothing else was said. */
function withConnection(source: Body): Body {
  const kind = SOURCE_KINDS.find((one): one is SourceKind => one === source.kind) ?? SOURCE_KINDS[0];
  const given = (source.connection ?? {}) as Body;
  const { data } = KINDS[kind].connection.safeParse(given);
  return { ...source, kind, connection: (data ?? given) as Body };
}

/**
 * Makes one edit on the items of a draft.
 * @param inForce bodies in force of the definitions that are edited.
 * @param newId hands out the number of a new definition.
 */
export function edit(
  items: Items,
  change: DraftChange,
  inForce: ReadonlyMap<string, Body>,
  newId: (kind: DefinitionKind) => number,
): void {
  const { kind } = change;
  if ('create' in change) {
    const id = newId(kind);
    const body = { ...newBody(kind), ...(change.create as Body) };
    items.set(keyOf({ kind, id }), { kind, id, base: null, body: kind === 'source' ? withConnection(body) : body });
    return;
  }
  const key = keyOf(change);
  const item = items.get(key) ?? null;
  const standing = inForce.get(key) ?? null;
  if ('discard' in change) {
    items.set(key, null);
    return;
  }
  const current = item ? item.body : standing;
  if (!current) throw new UneditableError(`The ${kind} number ${change.id} is not there, or retired.`);
  if ('retire' in change) {
    // What is only in the draft is gone with it.
    items.set(key, standing ? { kind, id: change.id, base: item?.base ?? standing, body: null } : null);
    return;
  }
  const body = { ...current, ...(change.set as Body) };
  if ('copy' in change) {
    const id = newId(kind);
    items.set(keyOf({ kind, id }), { kind, id, base: null, body: kind === 'tag' ? { ...body, since: null } : body });
    return;
  }
  const base = item ? item.base : standing;
  items.set(key, base && samePlain(base, body) ? null : { kind, id: change.id, base, body });
}
