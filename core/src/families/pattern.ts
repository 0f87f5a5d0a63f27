/**
 * A pattern: a text with places for variables. `{pump}` is the variable as its list has it; `{pump:00}` with two digits at
 * least; `{pump*10+400}` reckoned, which may have digits, too: `{pump*10+400:0000}`. `{{` and `}}` are braces.
 */
import type { Assignment } from './roster.ts';

const PLACE = /\{\{|\}\}|\{([^{}]*)\}|[{}]/g;
const INSIDE = /^\s*([A-Za-z_]\w*)\s*(?:\*\s*(\d+))?\s*(?:([+-])\s*(\d+))?\s*(?::\s*(0+))?\s*$/;

/** The text for one assignment. @throws SyntaxError with a sentence where the pattern is none, or a variable is missing */
export const expandPattern = (pattern: string, assignment: Assignment): string =>
  pattern.replace(PLACE, (found, inside: string | undefined) => {
    if (found === '{{') return '{';
    if (found === '}}') return '}';
    if (inside === undefined) throw new SyntaxError(`"${pattern}" has a brace without another one: write it twice.`);
    return valueAt(inside, assignment);
  });

function valueAt(inside: string, assignment: Assignment): string {
  const [, name, times, sign, plus, digits] = INSIDE.exec(inside) ?? [];
  if (name === undefined)
    throw new SyntaxError(`{${inside}} is no place for a variable, such as {pump}, {pump:00} or {pump*10+1}.`);
  if (!Object.hasOwn(assignment, name)) throw new SyntaxError(`There is no variable ${name} in the roster.`);
  const text = assignment[name]!;
  if (times === undefined && plus === undefined && digits === undefined) return text;
  if (!/^\d+$/.test(text))
    throw new SyntaxError(`{${inside}}: ${name} is "${text}" here, and has to be a whole number.`);
  const number = Number(text) * Number(times ?? 1) + Number(plus ?? 0) * (sign === '-' ? -1 : 1);
  return number < 0 ? String(number) : String(number).padStart(digits?.length ?? 0, '0');
}
