/**
 * The syntax of formulas: numbers, texts in quotes, names of inputs, arithmetic, comparison, `and`, `or`, `not`,
 * `condition ? one : other`, and calls of known functions. Nothing else: no fields of anything, no lists, no assignment.
 */
import jsep from 'jsep';
import { FORMULA_FUNCTIONS, isInputFunction, type InputFunction } from './functions.ts';

/** A formula may be so long, hold so many parts, and be nested so deep: one evaluation is at most so many steps. */
export const FORMULA_LIMITS = { characters: 2000, parts: 500, depth: 200 } as const;

const BINARY = ['+', '-', '*', '/', '%', '^', '==', '!=', '<', '<=', '>', '>=', 'and', 'or'] as const;
export type Binary = (typeof BINARY)[number];
const isBinary = (operator: string): operator is Binary => (BINARY as readonly string[]).includes(operator);

/** A formula, part by part. */
export type Part =
  | { readonly kind: 'number'; readonly value: number }
  | { readonly kind: 'text'; readonly value: string }
  | { readonly kind: 'input'; readonly name: string }
  | { readonly kind: 'asked'; readonly ask: InputFunction; readonly name: string }
  | { readonly kind: 'negative' | 'not'; readonly of: Part }
  | { readonly kind: 'binary'; readonly by: Binary; readonly left: Part; readonly right: Part }
  | { readonly kind: 'choice'; readonly if: Part; readonly then: Part; readonly else: Part }
  | { readonly kind: 'call'; readonly name: string; readonly given: readonly Part[] };

for (const operator of ['|', '&', '<<', '>>', '>>>', '===', '!==', '^', '??', '||', '&&', '**'])
  jsep.removeBinaryOp(operator);
jsep.removeUnaryOp('~');
jsep.addBinaryOp('or', 1);
jsep.addBinaryOp('and', 2);
jsep.addBinaryOp('^', 12, true);
jsep.addUnaryOp('not');

/** @throws SyntaxError with a sentence */
export function readFormula(text: string): Part {
  if (text.trim() === '') throw new SyntaxError('The formula is empty.');
  if (text.length > FORMULA_LIMITS.characters)
    throw new SyntaxError(`The formula has ${text.length} characters; it may have ${FORMULA_LIMITS.characters}.`);
  return new Reading().part(parsed(text), 1);
}

function parsed(text: string): jsep.CoreExpression {
  try {
    return jsep(text) as jsep.CoreExpression;
  } catch (error) {
    const { description, message, index } = error as { description?: string; message: string; index?: number };
    const where = index === undefined ? '' : ` (at character ${Math.min(index + 1, text.length)})`;
    throw new SyntaxError(`The formula cannot be read: ${(description ?? message).replace(/\.$/, '')}${where}.`, {
      cause: error,
    });
  }
}

class Reading {
  private parts = 0;

  part(node: jsep.Expression, depth: number): Part {
    if (++this.parts > FORMULA_LIMITS.parts)
      throw new SyntaxError(`The formula has more than ${FORMULA_LIMITS.parts} parts. Make two tags of it.`);
    if (depth > FORMULA_LIMITS.depth)
      throw new SyntaxError(`The formula is nested more than ${FORMULA_LIMITS.depth} deep. Make two tags of it.`);
    const below = (child: jsep.Expression): Part => this.part(child, depth + 1);
    const known = node as jsep.CoreExpression;
    switch (known.type) {
      case 'Literal':
        return literal(known);
      case 'Identifier':
        return { kind: 'input', name: known.name };
      case 'UnaryExpression':
        return this.unary(known, below);
      case 'BinaryExpression':
        if (!isBinary(known.operator)) throw new SyntaxError(`${known.operator} is not known here.`);
        // Mathematics and spreadsheets differ in what that is.
        if (known.operator === '^' && known.left.type === 'UnaryExpression')
          throw new SyntaxError('-a ^ b can be read in two ways. Write -(a ^ b), or (0 - a) ^ b.');
        return { kind: 'binary', by: known.operator, left: below(known.left), right: below(known.right) };
      case 'ConditionalExpression':
        return {
          kind: 'choice',
          if: below(known.test),
          then: below(known.consequent),
          else: below(known.alternate),
        };
      case 'CallExpression':
        return this.call(known, below);
      case 'MemberExpression':
        throw new SyntaxError('A formula has no fields: a point stands in numbers only. Give the tag a short name.');
      case 'Compound':
      case 'SequenceExpression':
        throw new SyntaxError('That are two formulas. Between them an operator is missing.');
      default:
        throw new SyntaxError('A formula holds numbers, texts, inputs, operators and functions, and nothing else.');
    }
  }

  private unary({ operator, argument }: jsep.UnaryExpression, below: (node: jsep.Expression) => Part): Part {
    if (operator === '+') return below(argument);
    return { kind: operator === '-' ? 'negative' : 'not', of: below(argument) };
  }

  private call({ callee, arguments: given }: jsep.CallExpression, below: (node: jsep.Expression) => Part): Part {
    const name = callee.type === 'Identifier' ? (callee as jsep.Identifier).name : '';
    if (isInputFunction(name)) {
      const [input] = given;
      if (given.length !== 1 || input?.type !== 'Identifier')
        throw new SyntaxError(`${name}(…) asks about an input: give it the name of one, as in ${name}(a).`);
      return { kind: 'asked', ask: name, name: (input as jsep.Identifier).name };
    }
    const known = FORMULA_FUNCTIONS.get(name);
    if (!known) throw new SyntaxError(`There is no function ${name || 'of that kind'}. There are: ${namesOfAll()}.`);
    if (given.length < known.least || given.length > known.most)
      throw new SyntaxError(`${name} takes ${countOf(known)}, not ${given.length}.`);
    return { kind: 'call', name, given: given.map(below) };
  }
}

function literal({ value, raw }: jsep.Literal): Part {
  if (typeof value === 'boolean') return { kind: 'number', value: Number(value) };
  if (typeof value === 'string') return { kind: 'text', value };
  if (typeof value === 'number' && Number.isFinite(value)) return { kind: 'number', value };
  throw new SyntaxError(`${raw} is neither a number nor a text.`);
}

const namesOfAll = (): string => [...FORMULA_FUNCTIONS.keys()].join(', ');
const countOf = ({ least, most }: { least: number; most: number }): string => {
  if (least === most) return least === 1 ? 'one number' : `${least} numbers`;
  return most === 2 ? 'one or two numbers' : 'at least one number';
};

/** The names of inputs in a formula, in the order in which they come. */
export function inputsOf(part: Part): string[] {
  const names = new Set<string>();
  const visit = (one: Part): void => {
    switch (one.kind) {
      case 'input':
      case 'asked':
        names.add(one.name);
        break;
      case 'negative':
      case 'not':
        visit(one.of);
        break;
      case 'binary':
        visit(one.left);
        visit(one.right);
        break;
      case 'choice':
        visit(one.if);
        visit(one.then);
        visit(one.else);
        break;
      case 'call':
        one.given.forEach(visit);
        break;
    }
  };
  visit(part);
  return [...names];
}
