/** A tag's fields as texts of cells, and texts back as fields. Pure. */
import { BODIES, KINDS, type SourceKind } from '@wide-ledger/contract';
import { applyDiff, fieldAt, isObject, samePlain, type Body, type DefinitionKind, type Plain } from '@wide-ledger/core';
import { typedNumber } from '../controls/typedNumber.ts';
import type { SheetColumn } from './columns.ts';

/** Names of what tags refer to, both ways, and of which kind a source is. */
export interface References {
  nameOf(kind: DefinitionKind, id: number): string;
  idOf(kind: DefinitionKind, name: string): number | null;
  kindOfSource(id: number): SourceKind | null;
}

/** Texts by the keys of their columns. */
export type Cells = Readonly<Record<string, string>>;

/** What cannot stand in a cell, and why. */
export interface CellTrouble {
  readonly key: string;
  readonly sentence: string;
}

/** What stands in a cell of a tag. */
export function cellOf(body: Body, column: SheetColumn, references: References): string {
  const value = fieldAt(body, column.path);
  if (value === undefined || value === null) return '';
  if (column.holds === 'inputs') return isObject(value) ? wordsOf(namesOf(value, references)) : '';
  if (column.refersTo) return typeof value === 'number' ? references.nameOf(column.refersTo, value) : '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (isObject(value)) return wordsOf(value);
  return typeof value === 'string' ? value : JSON.stringify(value);
}

export const cellsOf = (body: Body, columns: readonly SheetColumn[], references: References): Cells =>
  Object.fromEntries(columns.map((column) => [column.key, cellOf(body, column, references)]));

const plainText = (value: Plain): string => (typeof value === 'string' ? value : JSON.stringify(value));

/** The tags that a formula is computed of, by their names. */
const namesOf = (inputs: Body, references: References): Body =>
  Object.fromEntries(
    Object.entries(inputs).map(([name, id]) => [name, typeof id === 'number' ? references.nameOf('tag', id) : '']),
  );

function inputsOf(text: string, references: References): { value: Plain } | string {
  const words = wordsIn(text);
  if (!words) return 'Write it as a=NAME; b=NAME.';
  const inputs: Record<string, number> = {};
  for (const [name, tag] of Object.entries(words)) {
    const id = references.idOf('tag', tag);
    if (id === null) return `There is no tag ${tag}.`;
    inputs[name] = id;
  }
  return { value: inputs };
}

/** Words by numbers: `0=off; 1=on`. What parts them is marked where it stands in a word. */
const wordsOf = (words: Body): string =>
  Object.entries(words)
    .map(([number, word]) => `${number}=${plainText(word).replace(/[\\;]/g, '\\$&')}`)
    .join('; ');

function wordsIn(text: string): Readonly<Record<string, string>> | null {
  const words: Record<string, string> = {};
  for (const part of text.match(/(?:\\.|[^\\;])+/g) ?? []) {
    const at = part.indexOf('=');
    if (at < 1) return null;
    words[part.slice(0, at).trim()] = part
      .slice(at + 1)
      .replace(/\\(.)/g, '$1')
      .trim();
  }
  return Object.keys(words).length > 0 ? words : null;
}

/** A text as the value of a field; undefined: none. @returns a sentence where it cannot be one */
function valueOf(column: SheetColumn, text: string, references: References): { value: Plain | undefined } | string {
  const plain = text.trim();
  if (plain === '') return { value: column.nullable && column.path.length === 1 ? null : undefined };
  switch (column.holds) {
    case 'reference': {
      const id = references.idOf(column.refersTo!, plain);
      return id === null ? `There is no ${column.refersTo} ${plain}.` : { value: id };
    }
    case 'number': {
      const number = typedNumber(plain);
      return typeof number === 'number' ? { value: number } : `"${plain}" is no number.`;
    }
    case 'yes or no':
      if (/^(yes|true|1)$/i.test(plain)) return { value: true };
      return /^(no|false|0)$/i.test(plain) ? { value: false } : `"${plain}" is neither yes nor no.`;
    case 'choice':
      return column.choices.includes(plain) ? { value: plain } : `It is one of: ${column.choices.join(', ')}.`;
    case 'words': {
      const words = wordsIn(text);
      return words ? { value: words } : 'Write it as 0=off; 1=on.';
    }
    case 'inputs':
      return inputsOf(text, references);
    case 'text':
      return { value: text };
  }
}

/**
 * A tag with other texts in some of its cells. What cannot stand there is told, and left as it was.
 * @param body of the tag as it is; empty for a new one
 */
export function withCells(
  body: Body,
  texts: readonly (readonly [column: SheetColumn, text: string])[],
  references: References,
): { readonly body: Body; readonly troubles: readonly CellTrouble[] } {
  const troubles: CellTrouble[] = [];
  let changed = body;
  for (const [column, text] of texts) {
    if (text === cellOf(changed, column, references)) continue;
    const said = valueOf(column, text, references);
    if (typeof said === 'string') troubles.push({ key: column.key, sentence: said });
    else changed = tidied(applyDiff(changed, [{ path: column.path, to: said.value }]), column);
  }
  return { body: changed, troubles };
}

/** What a field's new kind does not have is taken out; an object of which nothing is left is none. */
function tidied(body: Body, { path }: SheetColumn): Body {
  const [top = '', ...inner] = path;
  if (inner.length === 0) return body;
  const around = path.slice(0, -1);
  let tidy = body;
  if (path.at(-1) === 'kind') {
    const kind = fieldAt(body, path);
    tidy = applyDiff(body, [{ path: around, to: kind === undefined ? undefined : { kind } }]);
  }
  const held = fieldAt(tidy, [top]);
  return top !== 'settings' && isObject(held) && Object.keys(held).length === 0
    ? applyDiff(tidy, [{ path: [top], to: null }])
    : tidy;
}

/** The fields at the top that differ, as an edit of a draft sets them. */
export const fieldsThatDiffer = (before: Body, after: Body): Body =>
  Object.fromEntries(
    [...new Set([...Object.keys(before), ...Object.keys(after)])]
      .filter((name) => !samePlain(before[name], after[name]))
      .map((name) => [name, after[name] ?? null]),
  );

/** What of a tag cannot be put in force by itself, told at its cells. @param body with everything that a tag has to have */
export function troublesOf(body: Body, references: References): CellTrouble[] {
  // A new one gets its store and how it is drawn from the server.
  const { success, error } = BODIES.tag.safeParse({ store: 1, stepped: false, ...body, address: null });
  const troubles = success
    ? []
    : error.issues.map(({ path, message }) => {
        const isThere = path.length === 0 || fieldAt(body, path.map(String)) !== undefined;
        return { key: path.join('.'), sentence: isThere ? message : 'It has to be filled in.' };
      });
  const kind = typeof body.source === 'number' ? references.kindOfSource(body.source) : null;
  if (kind === null || body.address === null || body.address === undefined) return troubles;
  const address = KINDS[kind].address.safeParse(body.address);
  if (!address.success)
    for (const { path, message } of address.error.issues)
      troubles.push({ key: ['address', ...path].join('.'), sentence: message });
  return troubles;
}
