/** Bringing two people's changes of one definition together. */
import { isObject, ownField, samePlain, type Body, type Plain } from './definitions.ts';
import type { FieldPath } from './diff.ts';

/** A field that two people changed to different things. */
export interface FieldConflict {
  /** Empty where one of them retired the whole definition. */
  readonly path: FieldPath;
  readonly base: Plain | undefined;
  readonly mine: Plain | undefined;
  readonly theirs: Plain | undefined;
}

export interface MergedBody {
  /** Both people's changes; where they conflict, mine. Null: retired. */
  readonly body: Body | null;
  readonly conflicts: readonly FieldConflict[];
}

/**
 * Merges two bodies that were made from one, field by field. What only one of them changed is taken; what both changed
 * to the same is that; the rest is a conflict. Null is a definition that is not there: new, or retired.
 */
export function merge(base: Body | null, mine: Body | null, theirs: Body | null): MergedBody {
  const conflicts: FieldConflict[] = [];
  const merged = mergeField([], base ?? undefined, mine ?? undefined, theirs ?? undefined, conflicts);
  return { body: (merged as Body | undefined) ?? null, conflicts };
}

function mergeField(
  path: FieldPath,
  base: Plain | undefined,
  mine: Plain | undefined,
  theirs: Plain | undefined,
  conflicts: FieldConflict[],
): Plain | undefined {
  if (samePlain(mine, theirs) || samePlain(theirs, base)) return mine;
  if (samePlain(mine, base)) return theirs;
  // Where there was no object before, two people made one each: their fields are merged as additions.
  if (isObject(mine) && isObject(theirs) && (base === undefined || isObject(base))) {
    const from = isObject(base) ? base : {};
    const names = new Set([...Object.keys(from), ...Object.keys(mine), ...Object.keys(theirs)]);
    const merged: [string, Plain][] = [];
    for (const name of names) {
      const field = mergeField(
        [...path, name],
        ownField(from, name),
        ownField(mine, name),
        ownField(theirs, name),
        conflicts,
      );
      if (field !== undefined) merged.push([name, field]);
    }
    return Object.fromEntries(merged);
  }
  conflicts.push({ path, base, mine, theirs });
  return mine;
}
