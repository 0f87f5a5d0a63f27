/** What names of tags have to be like in a place, and what is wrong with one. */
import { instrumentLetters, meaningOf } from './letters.ts';

/** Rules of a place, for its tags and those of all places in it that have no rules of their own. */
export interface NamingRules {
  /** What every name begins with; empty: anything. */
  readonly begins: string;
  /** What a name may hold beside letters from A to Z and digits; null: anything that a name may. */
  readonly signs: string | null;
  /** Whether there are capital letters only. */
  readonly capitals: boolean;
  /** Most characters; null: as many as a name may have. */
  readonly longest: number | null;
  /** Whether the letters before the number have to say what the instrument does, by ISA-5.1. */
  readonly letters: boolean;
  /** Whether a new or changed name that breaks them cannot be put in force. */
  readonly binding: boolean;
}

/** What is wrong with a name, each as a sentence; none: nothing. */
export function namingProblems(name: string, rules: NamingRules): readonly string[] {
  const problems: string[] = [];
  const { begins, signs, capitals, longest } = rules;
  if (!name.startsWith(begins)) problems.push(`Names here begin with ${begins}.`);
  const foreign = signs === null ? [] : [...new Set(name)].filter((sign) => !isPlain(sign) && !signs.includes(sign));
  if (foreign.length > 0) problems.push(`Names here hold no ${foreign.map(shown).join(' and no ')}.`);
  if (capitals && name !== name.toUpperCase()) problems.push('Names here are in capital letters.');
  if (longest !== null && [...name].length > longest)
    problems.push(`Names here are at most ${longest} characters long.`);
  if (rules.letters) {
    const letters = instrumentLetters(name);
    if (letters === null)
      problems.push('Names here have letters before their number that say what it is, such as PT-110.');
    else if (meaningOf(letters) === null)
      problems.push(`${letters} says nothing in ISA-5.1: first what is measured, then what is done with it.`);
  }
  return problems;
}

const isPlain = (sign: string): boolean => /[A-Za-z\d]/.test(sign);
const shown = (sign: string): string => (sign === ' ' ? 'spaces' : sign);

/**
 * A name that keeps the rules, as near to the given one as can be: capital letters, signs that may not be as the first
 * that may. Null where the rest is for a person to say.
 */
export function nameByRules(name: string, rules: NamingRules): string | null {
  let proposed = rules.capitals ? name.toUpperCase() : name;
  const { signs } = rules;
  if (signs !== null)
    proposed = [...proposed].map((sign) => (isPlain(sign) || signs.includes(sign) ? sign : signs.slice(0, 1))).join('');
  if (!proposed.startsWith(rules.begins)) proposed = rules.begins + proposed;
  return proposed !== name && namingProblems(proposed, rules).length === 0 ? proposed : null;
}
