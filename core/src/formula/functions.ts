/** What can be called in a formula: on numbers, each by its mathematics; nothing reaches beyond its arguments. */

export interface FormulaFunction {
  readonly least: number;
  readonly most: number;
  /** In one line, for whoever writes a formula. */
  readonly says: string;
  of(this: void, ...given: number[]): number;
}

const one = (says: string, of: (x: number) => number): FormulaFunction => ({ least: 1, most: 1, says, of });
const MOST_ARGUMENTS = 50;

/** @param digits behind the point; halves go away from zero, so that −2.5 becomes −3 as 2.5 becomes 3 */
function rounded(x: number, digits = 0): number {
  const scale = 10 ** digits;
  return (Math.sign(x) * Math.round(Math.abs(x) * scale)) / scale;
}

export const FORMULA_FUNCTIONS: ReadonlyMap<string, FormulaFunction> = new Map(
  Object.entries<FormulaFunction>({
    abs: one('the amount without its sign', Math.abs),
    sign: one('−1, 0 or 1', Math.sign),
    sqrt: one('square root', Math.sqrt),
    exp: one('e to the power of it', Math.exp),
    ln: one('natural logarithm', Math.log),
    log10: one('logarithm to the base 10', Math.log10),
    sin: one('sine of radians', Math.sin),
    cos: one('cosine of radians', Math.cos),
    tan: one('tangent of radians', Math.tan),
    asin: one('arc sine, in radians', Math.asin),
    acos: one('arc cosine, in radians', Math.acos),
    atan: one('arc tangent, in radians', Math.atan),
    floor: one('the whole number below', Math.floor),
    ceil: one('the whole number above', Math.ceil),
    round: { least: 1, most: 2, says: 'rounded, to so many digits behind the point', of: rounded },
    min: { least: 1, most: MOST_ARGUMENTS, says: 'the least of them', of: Math.min },
    max: { least: 1, most: MOST_ARGUMENTS, says: 'the greatest of them', of: Math.max },
    clamp: {
      least: 3,
      most: 3,
      says: 'x, kept between low and high',
      of: (x, low, high) => Math.min(Math.max(x, low), high),
    },
  }),
);

/** What asks about an input itself, not about its value. */
export const INPUT_FUNCTIONS = {
  previous: 'the value before its last one',
  since: 'seconds since its last value',
  good: '1 where its last value is Good',
  usable: '1 where its last value is not Bad',
} as const;
export type InputFunction = keyof typeof INPUT_FUNCTIONS;

export const isInputFunction = (name: string): name is InputFunction => Object.hasOwn(INPUT_FUNCTIONS, name);
