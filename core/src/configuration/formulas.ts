/** Checks of a tag's formula: that it can be read, that its inputs are there, and that it is not computed from itself. */
import { Formula } from '../formula/formula.ts';
import { isObject, nameIn, type Body } from './definitions.ts';
import type { FieldPath } from './diff.ts';

/** What the formula of a tag that is read calls the value that its source holds, scaled. */
export const OWN_VALUE = 'value';

type Note = (severity: 'blocks' | 'warns', path: FieldPath, sentence: string) => void;
type TagBodyOf = (id: number) => Body | undefined;

/** The tags of which a tag is computed, by what its formula calls them. */
export const inputsIn = (body: Body): [name: string, tag: number][] =>
  isObject(body.inputs)
    ? Object.entries(body.inputs).filter((entry): entry is [string, number] => typeof entry[1] === 'number')
    : [];

/** Whether a tag is computed out of others. */
export const isDerived = (body: Body): boolean => typeof body.formula === 'string' && typeof body.source !== 'number';

/** @param bodyOf a tag as it would be in force with the changes */
export function checkFormula(id: number, body: Body, bodyOf: TagBodyOf, note: Note): void {
  const { formula, type, source } = body;
  const name = nameIn(body);
  const inputs = new Map(inputsIn(body));
  if (typeof formula !== 'string') {
    if (inputs.size > 0) note('warns', ['inputs'], `${name} has inputs, but no formula over them.`);
    return;
  }
  const isRead = typeof source === 'number';
  const isText = (input: string): boolean => {
    const tag = inputs.get(input);
    return tag !== undefined && bodyOf(tag)?.type === 'text';
  };
  let read: Formula;
  try {
    read = Formula.read(formula, isText);
  } catch (error) {
    note('blocks', ['formula'], `${name}: ${(error as Error).message}`);
    return;
  }
  if (isRead) checkOwn(read, body, note);
  else checkDerived(id, read, inputs, name, bodyOf, note);
  if (read.givesText !== (type === 'text')) {
    const [gives, holds] = read.givesText ? ['texts', 'numbers'] : ['numbers', 'texts'];
    note('blocks', ['formula'], `The formula of ${name} gives ${gives}, and the tag holds ${holds}.`);
  }
}

/** The formula of a tag that a source is read for: over what the source holds, and over nothing else. */
function checkOwn({ inputs, part }: Formula, body: Body, note: Note): void {
  const name = nameIn(body);
  if (body.type === 'text') note('blocks', ['formula'], `${name} holds texts as its source has them: no formula.`);
  const others = inputs.filter((input) => input !== OWN_VALUE);
  if (others.length > 0) {
    const known = `The formula of ${name} knows its own ${OWN_VALUE} only, not ${others.join(', ')}.`;
    note('blocks', ['formula'], `${known} What is computed of others is a tag of its own, without a source.`);
  } else if (inputs.length === 0) note('warns', ['formula'], `${name} gives the same whatever its source holds.`);
  if (asksBack(part))
    note(
      'blocks',
      ['formula'],
      `${name} is read value by value: previous(…) and since(…) are for tags without a source.`,
    );
  if (inputsIn(body).length > 0) note('warns', ['inputs'], `${name} has a source: its inputs have no effect.`);
}

function checkDerived(
  id: number,
  { inputs }: Formula,
  given: ReadonlyMap<string, number>,
  name: string,
  bodyOf: TagBodyOf,
  note: Note,
): void {
  const unknown = inputs.filter((input) => !given.has(input));
  if (unknown.length > 0)
    note('blocks', ['inputs'], `The formula of ${name} names ${unknown.join(', ')}: say which tag that is.`);
  if (inputs.length === 0)
    note('blocks', ['formula'], `The formula of ${name} looks at no other tag: there would never be a value.`);
  for (const input of given.keys())
    if (!inputs.includes(input))
      note('warns', ['inputs', input], `${name} has the input ${input} and does not use it.`);
  const circle = circleFrom(id, bodyOf);
  if (circle) note('blocks', ['inputs'], `${name} would be computed from itself: ${circle.join(' → ')}.`);
}

function asksBack(part: Formula['part']): boolean {
  switch (part.kind) {
    case 'asked':
      return part.ask === 'previous' || part.ask === 'since';
    case 'negative':
    case 'not':
      return asksBack(part.of);
    case 'binary':
      return asksBack(part.left) || asksBack(part.right);
    case 'choice':
      return asksBack(part.if) || asksBack(part.then) || asksBack(part.else);
    case 'call':
      return part.given.some(asksBack);
    default:
      return false;
  }
}

/** The names along a way from a tag over its inputs back to it; null where there is none. */
function circleFrom(start: number, bodyOf: TagBodyOf): string[] | null {
  const met = new Set<number>();
  const from = (id: number): string[] | null => {
    const body = bodyOf(id);
    if (!body || !isDerived(body)) return null;
    for (const [, input] of inputsIn(body)) {
      if (input === start) return [nameIn(body), nameIn(bodyOf(start))];
      if (met.has(input)) continue;
      met.add(input);
      const rest = from(input);
      if (rest) return [nameIn(body), ...rest];
    }
    return null;
  };
  return from(start);
}
