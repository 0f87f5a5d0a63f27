/** What the schema of a field says about how it is filled in. */
import type { FieldSchema } from '@wide-ledger/contract';

const alternativesOf = (schema: FieldSchema): readonly FieldSchema[] => [
  ...(schema.anyOf ?? []),
  ...(schema.oneOf ?? []),
];

/** The types that a schema names itself. */
const typesOf = ({ type }: FieldSchema): readonly string[] => (typeof type === 'string' ? [type] : (type ?? []));

/** Whether a value may be of a type. */
export const isOfType = (schema: FieldSchema, ...types: readonly string[]): boolean =>
  typesOf(schema).some((type) => types.includes(type));

/** Whether a field may hold none. */
export const acceptsNull = (schema: FieldSchema): boolean =>
  isOfType(schema, 'null') || alternativesOf(schema).some((one) => isOfType(one, 'null'));

/** The alternatives of a schema that hold something, or itself. */
export function shapesOf(schema: FieldSchema): readonly [FieldSchema, ...FieldSchema[]] {
  const [first, ...rest] = alternativesOf(schema).filter((one) => !isOfType(one, 'null'));
  return first ? [first, ...rest] : [schema];
}

/** The schema of an object whose fields are shown one by one; a union of several objects is one field. */
export function objectOf(schema: FieldSchema): FieldSchema | undefined {
  const [only, ...others] = shapesOf(schema);
  return others.length === 0 && Object.keys(only.properties ?? {}).length > 0 ? only : undefined;
}
