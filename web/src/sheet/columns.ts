/** The columns of the tag sheet: every field of a tag that holds one value, out of the schemas of tags and addresses. Pure. */
import { addressSchemaOf, fieldTitle, schemaOf, type FieldSchema, type SourceKind } from '@wide-ledger/contract';
import type { DefinitionKind, FieldPath } from '@wide-ledger/core';
import { REFERENCES } from '../configuration/form/references.ts';
import { acceptsNull, isOfType, shapesOf } from '../configuration/form/shapes.ts';

export interface SheetColumn {
  /** Its path, joined by dots: `settings.deadband.width`. */
  readonly key: string;
  readonly path: FieldPath;
  readonly title: string;
  readonly holds: 'text' | 'number' | 'yes or no' | 'choice' | 'words' | 'reference' | 'inputs';
  /** What may stand there, of a choice. */
  readonly choices: readonly string[];
  /** To what kind of definition its name refers. */
  readonly refersTo: DefinitionKind | null;
  /** Emptied, the field is null; else it is left out. */
  readonly nullable: boolean;
}

/** Which columns come first, and stand in a sheet that nobody has arranged. */
export const FIRST = [
  'name',
  'description',
  'place',
  'type',
  'unit',
  'low',
  'high',
  'source',
  'pace',
  'paused',
  'settings.intervalMilliseconds',
  'settings.deadband.kind',
  'settings.deadband.width',
  'settings.longestSilenceSeconds',
] as const;

/** @param kinds of the sources whose tags have addresses in the sheet. */
export function sheetColumns(kinds: readonly SourceKind[]): readonly SheetColumn[] {
  const columns = new Map<string, SheetColumn>();
  const add = (column: SheetColumn): void => {
    const known = columns.get(column.key);
    // What several shapes share is one column; of a choice, with the choices of all.
    if (!known) columns.set(column.key, column);
    else if (known.holds === 'choice')
      columns.set(column.key, { ...known, choices: [...new Set([...known.choices, ...column.choices])] });
  };
  for (const [name, schema] of Object.entries(schemaOf('tag').properties ?? {}))
    if (!['address', 'standbyAddress'].includes(name)) walk(schema, [name], add);
  for (const name of ['address', 'standbyAddress']) for (const kind of kinds) walk(addressSchemaOf(kind), [name], add);
  const rank = new Map<string, number>(FIRST.map((key, i) => [key, i]));
  return [...columns.values()].sort((a, b) => (rank.get(a.key) ?? FIRST.length) - (rank.get(b.key) ?? FIRST.length));
}

function walk(schema: FieldSchema, path: FieldPath, add: (column: SheetColumn) => void): void {
  const [name = ''] = path;
  const nullable = acceptsNull(schema) && path[0] !== 'settings';
  const column = (holds: SheetColumn['holds'], choices: readonly string[] = []): void =>
    add({
      key: path.join('.'),
      path,
      title: titleOf(path, schema),
      holds,
      choices,
      refersTo: holds === 'reference' ? REFERENCES[name]! : holds === 'inputs' ? 'tag' : null,
      nullable,
    });
  if (path.length === 1 && name in REFERENCES) {
    column('reference');
    return;
  }
  const shapes = shapesOf(schema);
  const objects = shapes.filter(({ properties }) => Object.keys(properties ?? {}).length > 0);
  for (const object of objects)
    for (const [field, own] of Object.entries(object.properties ?? {})) walk(own, [...path, field], add);
  if (objects.length > 0) return;
  const [shape] = shapes;
  if (shape.const !== undefined) column('choice', [String(shape.const)]);
  else if (shape.enum) column('choice', shape.enum.map(String));
  else if (isOfType(shape, 'boolean')) column('yes or no');
  else if (isOfType(shape, 'number', 'integer')) column('number');
  else if (isOfType(shape, 'object')) column(name === 'inputs' ? 'inputs' : 'words');
  else column('text');
}

/** The title of a column by its key; of none it is the tag as a whole. */
export const titleIn = (columns: readonly SheetColumn[], key: string): string =>
  columns.find((column) => column.key === key)?.title ?? (key || 'Tag');

/** Addresses are of several kinds, and the fields of a union have no title of their own. */
function titleOf(path: FieldPath, schema: FieldSchema): string {
  const known = fieldTitle('tag', path);
  const last = schema.title ?? path.at(-1)!;
  if (path[0] === 'address' || path[0] === 'standbyAddress') {
    const inner = path.slice(1, -1);
    const of = path[0] === 'address' ? 'Address' : 'Address by the second way';
    return [of, ...inner, last].join(' · ');
  }
  return path.at(-1) === 'kind' && path.length > 1 ? fieldTitle('tag', path.slice(0, -1)) : known;
}
