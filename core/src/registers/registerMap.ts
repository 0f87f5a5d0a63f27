/** Register maps as sheets: a line a tag, as makers of devices hand them out and people keep them. Pure. */
import type { Body, Plain } from '../configuration/definitions.ts';

/** The columns of a map, by their heads, and where each belongs in a tag. */
const COLUMNS = [
  ['name', ['name'], 'text'],
  ['description', ['description'], 'text'],
  ['unit', ['unit'], 'text'],
  ['type', ['type'], 'text'],
  ['range low', ['low'], 'number'],
  ['range high', ['high'], 'number'],
  ['area', ['address', 'area'], 'text'],
  ['address', ['address', 'address'], 'number'],
  ['register type', ['address', 'type'], 'text'],
  ['byte order', ['address', 'order'], 'text'],
  ['bit', ['address', 'bit'], 'number'],
  ['registers', ['address', 'length'], 'number'],
  ['factor', ['scaling', 'factor'], 'number'],
  ['offset', ['scaling', 'offset'], 'number'],
  ['decimals', ['scaling', 'places'], 'number'],
  ['raw low', ['scaling', 'ranges', 'rawLow'], 'number'],
  ['raw high', ['scaling', 'ranges', 'rawHigh'], 'number'],
  ['becomes low', ['scaling', 'ranges', 'low'], 'number'],
  ['becomes high', ['scaling', 'ranges', 'high'], 'number'],
] as const;

export const REGISTER_MAP_HEADS: readonly string[] = COLUMNS.map(([head]) => head);

const plainAt = (body: Body, path: readonly string[]): Plain | undefined =>
  path.reduce<Plain | undefined>(
    (at, name) => (typeof at === 'object' && at !== null && !Array.isArray(at) ? (at as Body)[name] : undefined),
    body,
  );

/** A tag as a line of the map. */
export const registerMapLine = (tag: Body): string[] =>
  COLUMNS.map(([, path]) => {
    const value = plainAt(tag, path);
    return typeof value === 'string' || typeof value === 'number' ? String(value) : '';
  });

/** A line of a map: what it says of a tag, or what is wrong with it. */
export interface RegisterMapLine {
  /** Counted from 1, the heads among them. */
  readonly line: number;
  readonly name: string;
  /** Fields of the tag that the map has columns for; null where the line cannot be read. */
  readonly fields: Body | null;
  readonly sentence: string;
}

/** A map that was read: its lines, and heads that mean nothing here. */
export interface RegisterMap {
  readonly lines: readonly RegisterMapLine[];
  readonly strange: readonly string[];
  /** Why nothing can be read; empty where it can. */
  readonly sentence: string;
}

/** Areas by the first digit of a reference of five or six digits, which counts from 1: common practice, no source. */
const AREAS: Readonly<Record<string, string>> = { 0: 'coil', 1: 'discrete', 3: 'input', 4: 'holding' };

/** Reads a map. @param rows cells as texts, the heads first. @param decimalComma whether 0,1 is a tenth. */
export function readRegisterMap(rows: readonly (readonly string[])[], decimalComma: boolean): RegisterMap {
  const [given = [], ...rest] = rows;
  const heads = given.map((head) => head.trim().toLowerCase());
  const strange = given.filter((head, i) => head.trim() !== '' && !REGISTER_MAP_HEADS.includes(heads[i]!));
  const missing = ['name', 'address'].filter((head) => !heads.includes(head));
  const twice = heads.find((head, i) => head !== '' && heads.indexOf(head) !== i);
  if (missing.length > 0)
    return { lines: [], strange, sentence: `The first line has no column "${missing.join('" and no column "')}".` };
  if (twice !== undefined) return { lines: [], strange, sentence: `The column "${twice}" is there twice.` };
  const names = new Map<string, number>();
  const lines = rest.flatMap((cells, i): RegisterMapLine[] => {
    if (cells.every((cell) => cell.trim() === '')) return [];
    const line = i + 2;
    const read = readLine(heads, cells, decimalComma);
    const before = names.get(read.name.toLowerCase());
    names.set(read.name.toLowerCase(), before ?? line);
    if (before === undefined) return [{ ...read, line }];
    return [{ line, name: read.name, fields: null, sentence: `${read.name} is in line ${before} already.` }];
  });
  return { lines, strange, sentence: '' };
}

function readLine(
  heads: readonly string[],
  cells: readonly string[],
  decimalComma: boolean,
): Omit<RegisterMapLine, 'line'> {
  const cellOf = (head: string): string => cells[heads.indexOf(head)]?.trim() ?? '';
  const name = cellOf('name');
  const fields: Record<string, Plain> = {};
  const wrong = (sentence: string): Omit<RegisterMapLine, 'line'> => ({ name, fields: null, sentence });
  if (name === '') return wrong('It has no name.');
  for (const [head, path, kind] of COLUMNS) {
    if (!heads.includes(head)) continue;
    const cell = cellOf(head);
    const value = cell === '' ? null : kind === 'text' ? cell : numberOf(cell, decimalComma);
    if (typeof value === 'number' && Number.isNaN(value))
      return wrong(`In "${head}" stands "${cell}", which is no number.`);
    setAt(fields, path, value);
  }
  return { name, fields: settled(fields, cellOf('address')), sentence: '' };
}

const numberOf = (cell: string, decimalComma: boolean): number =>
  /^[-+]?(\d+([.,]\d*)?|[.,]\d+)(e[-+]?\d+)?$/i.test(cell) && (decimalComma || !cell.includes(','))
    ? Number(cell.replace(',', '.'))
    : NaN;

function setAt(fields: Record<string, Plain>, [name, ...rest]: readonly string[], value: Plain): void {
  if (rest.length === 0) {
    fields[name!] = value;
    return;
  }
  const inner = (fields[name!] ?? {}) as Record<string, Plain>;
  fields[name!] = inner;
  // What is not said inside of something is left out of it.
  if (value !== null) setAt(inner, rest, value);
}

/** A reference such as 40001 says its area, and an empty scaling is none; texts that are empty are empty. */
function settled(fields: Record<string, Plain>, typed: string): Body {
  const address = fields.address as Record<string, Plain>;
  const area = AREAS[typed[0]!];
  if (address.area === undefined && /^[0134]\d{4,5}$/.test(typed) && area !== undefined && Number(typed.slice(1)) > 0) {
    address.area = area;
    address.address = Number(typed.slice(1)) - 1;
  }
  const scaling = fields.scaling as Record<string, Plain> | undefined;
  const ranges = scaling?.ranges as Record<string, Plain> | undefined;
  if (scaling && ranges && Object.keys(ranges).length === 0) delete scaling.ranges;
  if (scaling && Object.keys(scaling).length === 0) fields.scaling = null;
  for (const text of ['description', 'unit']) if (fields[text] === null) fields[text] = '';
  if (fields.type === null) delete fields.type;
  return fields;
}
