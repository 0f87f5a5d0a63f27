/** From what people wrote to what would be put in force: merged with what is, shaped, checked. */
import { BODIES, fieldTitle } from '@wide-ledger/contract';
import {
  check,
  merge,
  samePlain,
  type Body,
  type Change,
  type DefinitionKey,
  type DefinitionKind,
  type FieldConflict,
  type Finding,
} from '@wide-ledger/core';
import { Turns } from '../../ground/index.ts';
import { bodiesInForce, inOrderOfKinds, keyOf, type Asked } from '../definitions/definitions.ts';
import { kindFindings } from './kinds.ts';
import { standingFor } from './standing.ts';

/** A change as somebody wrote it: what was in force then, and what is to be; null for nothing. */
export interface Wish extends DefinitionKey {
  readonly base: Body | null;
  readonly body: Body | null;
}

export interface Settled {
  /** What is in force now becomes; wishes that change nothing any more are left out. */
  readonly changes: readonly Change[];
  readonly findings: readonly Finding[];
  readonly conflicts: readonly (DefinitionKey & FieldConflict)[];
}

/** Wishes that are merged before others get their turn. */
const AT_ONCE = 500;

/**
 * Merges wishes with what is in force by now, gives each body its kind's shape, and checks all of it together.
 * @param inForce the bodies in force of what the wishes are about, where they are at hand.
 */
export async function settle(
  asked: Asked,
  wishes: readonly Wish[],
  inForce?: ReadonlyMap<string, Body>,
): Promise<Settled> {
  const standing = inForce ?? (await bodiesInForce(asked, wishes));
  const conflicts: (DefinitionKey & FieldConflict)[] = [];
  const findings: Finding[] = [];
  const changes: Change[] = [];
  const turns = new Turns(AT_ONCE);
  for (const { kind, id, base, body } of inOrderOfKinds(wishes)) {
    await turns.after(1);
    const before = standing.get(keyOf({ kind, id })) ?? null;
    const merged = merge(base, body, before);
    for (const conflict of merged.conflicts) conflicts.push({ kind, id, ...conflict });
    if (merged.body === null) {
      if (before) changes.push({ kind, id, before, after: null });
      continue;
    }
    const shaped = BODIES[kind].safeParse(merged.body);
    if (!shaped.success) {
      for (const { path, message } of shaped.error.issues) {
        const where = path.map(String);
        findings.push({ kind, id, path: where, severity: 'blocks', sentence: sentenceOf(kind, where, message) });
      }
    }
    const after = shaped.success ? (shaped.data as unknown as Body) : merged.body;
    if (!before || !samePlain(before, after)) changes.push({ kind, id, before, after });
  }
  const around = await standingFor(asked, changes);
  findings.push(...check(changes, around), ...kindFindings(changes, around));
  return { changes, findings, conflicts };
}

/** A field's title with what is wrong with it; what concerns several fields is a sentence already. */
function sentenceOf(kind: DefinitionKind, path: readonly string[], message: string): string {
  const title = fieldTitle(kind, path);
  const colon = title !== '' && /^[A-Z]/.test(message) ? ':' : '';
  return `${title}${colon} ${message}`.trim().replace(/\.?$/, '.');
}
