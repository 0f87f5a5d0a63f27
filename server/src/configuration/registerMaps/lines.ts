/** What lines of a register map come to: new tags of a source, changes of those that it has, or what is wrong. Pure. */
import {
  modbusAddress,
  scaling,
  tagName,
  type DraftChange,
  type ModbusAddress,
  type RegisterMapLine,
} from '@wide-ledger/contract';
import { samePlain, plainWords, type Body, type Plain, type RegisterMapLine as ReadLine } from '@wide-ledger/core';

/** A tag of the source, as it stands for whoever takes the map in. */
export interface KnownTag {
  readonly id: number;
  readonly body: Body;
}

export interface SettledLine {
  readonly told: RegisterMapLine;
  /** Null where there is nothing to do. */
  readonly change: DraftChange | null;
}

/**
 * @param source its number. @param known its tags by their names in small letters.
 * @param elsewhere names in small letters that tags of other sources have.
 */
export function settleLine(
  { line, name, fields, sentence }: ReadLine,
  source: number,
  known: ReadonlyMap<string, KnownTag>,
  elsewhere: ReadonlySet<string>,
): SettledLine {
  const wrong = (why: string): SettledLine => ({ told: { line, name, what: 'wrong', sentence: why }, change: null });
  if (fields === null) return wrong(sentence);
  const key = name.toLowerCase();
  if (elsewhere.has(key)) return wrong('Another source has a tag of this name.');
  const named = tagName.safeParse(name);
  if (!named.success) return wrong(`The name ${named.error.issues[0]!.message}.`);
  const checked = checkedFields(fields);
  if (typeof checked === 'string') return wrong(checked);
  const old = known.get(key);
  if (!old) {
    const change = { kind: 'tag', create: { ...natureOf(checked), ...checked, source } } as const;
    return { told: { line, name, what: 'new', sentence: '' }, change };
  }
  const set = Object.fromEntries(
    Object.entries(checked).filter(([field, value]) => field !== 'name' && !samePlain(value, old.body[field] ?? null)),
  );
  if (Object.keys(set).length === 0) return { told: { line, name, what: 'same', sentence: '' }, change: null };
  const words = Object.entries(set).map(([field, value]) => `${field}: ${plainWords([field], value)}`);
  return {
    told: { line, name, what: 'changed', sentence: words.join(', ') },
    change: { kind: 'tag', id: old.id, set },
  };
}

/** Address and scaling with what nobody said of them filled in; a sentence where one is wrong. */
function checkedFields(fields: Body): Body | string {
  const found: Record<string, Plain> = { ...fields };
  const { area, address } = fields.address as { area?: string; address?: number };
  if (address === undefined) return 'It has no address.';
  if (area === undefined) return 'Say the area: holding, input, coil or discrete; or give a reference such as 40001.';
  for (const [field, schema] of [
    ['address', modbusAddress],
    ['scaling', scaling],
  ] as const) {
    if (fields[field] === undefined || (field === 'scaling' && fields[field] === null)) continue;
    const { data, error } = schema.safeParse(fields[field]);
    if (error) {
      const { path, message } = error.issues[0]!;
      return `${[field, ...path].join(' ')}: ${message}.`;
    }
    found[field] = data as unknown as Plain;
  }
  return found;
}

/** The type of a tag whose map does not say it: by what lies in the register. */
function natureOf({ address, scaling: scaled }: Body): Body {
  const { area, type } = address as unknown as ModbusAddress;
  if (area === 'coil' || area === 'discrete' || type === 'bit') return { type: 'boolean', stepped: true };
  if (type === 'text') return { type: 'text', stepped: true };
  const whole = !type.startsWith('float') && (scaled ?? null) === null;
  return { type: whole ? 'integer' : 'real', stepped: whole };
}
