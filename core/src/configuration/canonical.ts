/** One text for one value, whatever the order in which its fields were given: what digests are made of. */
import type { Plain } from './definitions.ts';

/** The value as JSON with every object's fields in the order of their names. */
export function canonical(value: Plain): string {
  if (Array.isArray(value)) return `[${value.map((one) => canonical(one as Plain)).join(',')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const body = value as Readonly<Record<string, Plain>>;
  const fields = Object.keys(body)
    .filter((name) => body[name] !== undefined)
    .sort()
    .map((name) => `${JSON.stringify(name)}:${canonical(body[name]!)}`);
  return `{${fields.join(',')}}`;
}
