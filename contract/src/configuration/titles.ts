/** What the fields of definitions are called, out of the schemas that say what they are. */
import type { DefinitionKind } from '@wide-ledger/core';
import { z } from 'zod';
import { KINDS, type SourceKind } from '../kinds/index.ts';
import { BODIES } from './bodies.ts';
import { OTHER_ENDS, type OtherEndKind } from './farEnds.ts';

/** The parts of a JSON schema by which fields are found. */
export interface FieldSchema {
  readonly minLength?: number;
  readonly title?: string;
  readonly description?: string;
  readonly type?: string | readonly string[];
  readonly enum?: readonly (string | number | null)[];
  readonly const?: string | number | boolean | null;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly default?: unknown;
  /** The field holds a text of several lines. */
  readonly long?: boolean;
  /** The field holds the number of a secret. */
  readonly secret?: boolean;
  /** The field beside it of which it begins as a copy, where it is filled in. */
  readonly beginsAs?: string;
  readonly items?: FieldSchema;
  readonly properties?: Readonly<Record<string, FieldSchema>>;
  readonly anyOf?: readonly FieldSchema[];
  readonly oneOf?: readonly FieldSchema[];
}

const schemas = new Map<string, FieldSchema>();

function schemaFor(name: string, zod: z.ZodType): FieldSchema {
  let schema = schemas.get(name);
  if (!schema) {
    schema = z.toJSONSchema(zod, { io: 'input', unrepresentable: 'any' }) as FieldSchema;
    schemas.set(name, schema);
  }
  return schema;
}

/** A kind of definition as a JSON schema: forms are drawn from it. */
export const schemaOf = (kind: DefinitionKind): FieldSchema => schemaFor(kind, BODIES[kind]);

/** An address in a source of a kind, or none, as a JSON schema. */
export const addressSchemaOf = (kind: SourceKind): FieldSchema =>
  schemaFor(`${kind} address`, KINDS[kind].address.nullable().meta({ title: 'Address' }));

/** A far end of a kind that is no site, as a JSON schema. */
export const farEndSchemaOf = (kind: OtherEndKind): FieldSchema =>
  schemaFor(`far end ${kind}`, OTHER_ENDS[kind].schema);

const alternatives = (schema: FieldSchema): FieldSchema[] => [
  schema,
  ...[...(schema.anyOf ?? []), ...(schema.oneOf ?? [])].flatMap(alternatives),
];

/** The field at the end of a path; undefined where no alternative of the schema has it. */
export function fieldSchema(schema: FieldSchema, path: readonly string[]): FieldSchema | undefined {
  const [name, ...rest] = path;
  if (name === undefined) return schema;
  for (const one of alternatives(schema)) {
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
