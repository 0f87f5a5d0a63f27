/** Editing a draft: what each edit makes of the items that it touches. Pure. */
import type { DraftChange } from '@wide-ledger/contract';
import { samePlain, type Body, type DefinitionKey, type DefinitionKind } from '@wide-ledger/core';
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

/** What a new definition is made of before anybody says more. */
const NEW_BODIES: Readonly<Record<DefinitionKind, Body>> = {
  place: { name: '', parent: null },
  pace: {
    name: '',
    description: '',
    intervalMilliseconds: 1000,
    aligned: true,
    deadband: { kind: 'none' },
    longestSilenceSeconds: null,
  },
  store: { name: '', retentionMonths: null },
  source: {
    name: '',
    paused: false,
    kind: 'modbus-tcp',
    connection: { host: '', port: 502, unit: 1, timeoutMilliseconds: 1000 },
  },
  tag: {
    name: '',
    type: 'real',
    unit: '',
    description: '',
    place: null,
    stepped: false,
    low: null,
    high: null,
    states: null,
    store: EMBEDDED,
    source: null,
    address: null,
    scaling: null,
    pace: null,
    settings: {},
    paused: false,
    aggregateConfiguration: null,
    counter: null,
    since: null,
  },
};

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
    items.set(keyOf({ kind, id }), { kind, id, base: null, body: { ...NEW_BODIES[kind], ...(change.create as Body) } });
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
