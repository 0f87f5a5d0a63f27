/** Texts that no call can do anything with: refused at the door, by where they stand. */
import { badRequest } from './problemError.ts';

/** What is wrong with a text that cannot be kept: half a character, or the character NUL. Null where it can. */
export function faultOfText(text: string): string | null {
  if (text.includes('\0')) return 'holds the character NUL, which cannot be kept';
  if (!text.isWellFormed()) return 'holds half of a character (a lone surrogate), which cannot be kept';
  return null;
}

/** @param where what the value as a whole is called; empty for a body, whose members have names. @throws ProblemError naming the member whose text cannot be kept. */
export function refuseUnwritable(value: unknown, where: string): void {
  if (typeof value === 'string') {
    const fault = faultOfText(value);
    if (fault !== null) throw badRequest(`${where || 'The body'} ${fault}. Leave it out.`);
  } else if (Array.isArray(value)) {
    value.forEach((one, index) => refuseUnwritable(one, where ? `${where}.${index}` : String(index)));
  } else if (typeof value === 'object' && value !== null) {
    for (const [name, one] of Object.entries(value)) {
      const fault = faultOfText(name);
      if (fault !== null) throw badRequest(`${where || 'The body'}: the name of a member ${fault}. Leave it out.`);
      refuseUnwritable(one, where ? `${where}.${name}` : name);
    }
  }
}
