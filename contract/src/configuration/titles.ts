/** What the fields of definitions are called, out of the schemas that say what they are. */
import type { DefinitionKind } from '@wide-ledger/core';
import { z } from 'zod';
import { BODIES } from './bodies.ts';

/** The parts of a JSON schema by which fields are found. */
export interface FieldSchema {
  readonly title?: string;
  readonly description?: string;
  readonly type?: string | readonly string[];
  readonly enum?: readonly (string | number | null)[];
  readonly const?: string | number | boolean | null;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly default?: unknown;
  readonly properties?: Readonly<Record<string, FieldSchema>>;
  readonly anyOf?: readonly FieldSchema[];
  readonly oneOf?: readonly FieldSchema[];
}

const schemas = new Map<DefinitionKind, FieldSchema>();

/** A kind of definition as a JSON schema: forms are drawn from it. */
export function schemaOf(kind: DefinitionKind): FieldSchema {
  let schema = schemas.get(kind);
  if (!schema) {
    schema = z.toJSONSchema(BODIES[kind], { io: 'input', unrepresentable: 'any' }) as FieldSchema;
    schemas.set(kind, schema);
  }
  return schema;
}

/** The field at the end of a path; undefined where no alternative of the schema has it. */
export function fieldSchema(schema: FieldSchema, path: readonly string[]): FieldSchema | undefined {
  const [name, ...rest] = path;
  if (name === undefined) return schema;
  for (const one of [schema, ...(schema.anyOf ?? []), ...(schema.oneOf ?? [])]) {
    const field = one.properties?.[name];
    const found = field && fieldSchema(field, rest);
    if (found) return found;
  }
  return undefined;
}

/** What a field is called: the titles along its path, or its own name where it has none. */
export function fieldTitle(kind: DefinitionKind, path: readonly string[]): string {
  const titles = path.map((name, i) => fieldSchema(schemaOf(kind), path.slice(0, i + 1))?.title ?? name);
  // The object around a field is named only where it says more than the kind does.
  return titles
    .filter((title, i) => i === titles.length - 1 || !['Connection', 'Settings of its own'].includes(title))
    .join(' · ');
}
