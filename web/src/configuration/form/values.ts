/** What several definitions have in common, and what an edit makes of each. Pure. */
import type { DraftChange } from '@wide-ledger/contract';
import { applyDiff, fieldAt, samePlain, type Body, type FieldPath, type Plain } from '@wide-ledger/core';
import type { Standing } from '../drafting.ts';

/** A field of one definition or of many. */
export interface FieldState {
  /** What they share; undefined where it is absent from all, or differs. */
  readonly value: Plain | undefined;
  readonly differs: boolean;
  /** What is in force where the draft has something else, for one definition; undefined: the same. */
  readonly inForce: { readonly value: Plain | undefined } | undefined;
}

/** How a field stands among definitions that are there. */
export function fieldState(standings: readonly Standing[], path: FieldPath): FieldState {
  const values = standings.map(({ body }) => (body ? fieldAt(body, path) : undefined));
  const differs = values.some((value) => !samePlain(value, values[0]));
  const changed = standings.filter(
    ({ body, inForce }) => body && inForce && !samePlain(fieldAt(body, path), fieldAt(inForce, path)),
  );
  const [first] = changed;
  const inForce = first && standings.length === 1 ? { value: fieldAt(first.inForce!, path) } : undefined;
  return { value: differs ? undefined : values[0], differs, inForce };
}

/** Setting a field of definitions: an edit for each, which leaves the rest of its fields alone. */
export function setField(standings: readonly Standing[], path: FieldPath, to: Plain | undefined): DraftChange[] {
  const [top] = path as readonly [string];
  return standings.flatMap(({ kind, id, body }): DraftChange[] => {
    if (!body || samePlain(fieldAt(body, path), to)) return [];
    const changed: Body = applyDiff(body, [{ path, to }]);
    return [{ kind, id, set: { [top]: changed[top] ?? null } }];
  });
}
