/** Differences of two bodies, field by field, and putting them on. */
import { isObject, ownField, samePlain, type Body, type Plain } from './definitions.ts';

/** The way to a field through nested objects: `['connection', 'port']`. */
export type FieldPath = readonly string[];

/** One field that differs; undefined on a side where the field is absent. */
export interface FieldChange {
  readonly path: FieldPath;
  readonly from: Plain | undefined;
  readonly to: Plain | undefined;
}

/**
 * What has to change for one body to become the other. Objects on both sides are compared by their fields; lists, and an
 * object against anything else, are one field. {@link applyDiff} of the result to `before` gives `after`.
 */
export function diff(before: Body, after: Body): FieldChange[] {
  const changes: FieldChange[] = [];
  const walk = (from: Body, to: Body, path: FieldPath): void => {
    for (const name of new Set([...Object.keys(from), ...Object.keys(to)])) {
      const [a, b] = [ownField(from, name), ownField(to, name)];
      if (samePlain(a, b)) continue;
      if (isObject(a) && isObject(b)) walk(a, b, [...path, name]);
      else changes.push({ path: [...path, name], from: a, to: b });
    }
  };
  walk(before, after, []);
  return changes;
}

/** A body with fields set, or taken out where they are to be undefined. Objects on the way are made as they are needed. */
export function applyDiff(body: Body, changes: readonly Pick<FieldChange, 'path' | 'to'>[]): Body {
  return changes.reduce((changed, { path, to }) => withField(changed, path, to), body);
}

/** The field at the end of a path; undefined where there is none. */
export function fieldAt(body: Body, path: FieldPath): Plain | undefined {
  let value: Plain | undefined = body;
  for (const name of path) value = isObject(value) ? ownField(value, name) : undefined;
  return value;
}

function withField(body: Body, path: FieldPath, value: Plain | undefined): Body {
  const [name, ...rest] = path;
  if (name === undefined) return isObject(value) ? value : body;
  const held = ownField(body, name);
  const next = rest.length === 0 ? value : withField(isObject(held) ? held : {}, rest, value);
  const entries = Object.entries(body).filter(([one]) => one !== name);
  return Object.fromEntries(next === undefined ? entries : [...entries, [name, next]]);
}
