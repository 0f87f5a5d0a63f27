/** Texts and bodies that no call can do anything with: refused at the door, by where they stand. */
import { badRequest } from './problemError.ts';

/** The deepest that anything of the interface nests is about ten. */
const DEEPEST = 40;
const QUOTE = 0x22;
const BACKSLASH = 0x5c;

/**
 * Refuses JSON that nests too deeply or is made of too many parts, before it is taken apart: what is small on the wire
 * can be large in memory. @throws ProblemError
 */
export function refuseCrowdedJson(bytes: Uint8Array, most: number): void {
  let [depth, parts] = [0, 0];
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i]!;
    if (byte === QUOTE) {
      for (i++; i < bytes.length && bytes[i] !== QUOTE; i++) if (bytes[i] === BACKSLASH) i++;
    } else if (byte === 0x5b || byte === 0x7b) {
      parts++;
      depth++;
      if (depth > DEEPEST) throw badRequest(`The body nests more than ${DEEPEST} deep. Nothing here does.`);
      if (parts > most)
        throw badRequest(`The body is made of more than ${most} objects and arrays. Send it in several requests.`);
    } else if (byte === 0x5d || byte === 0x7d) depth--;
  }
}

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
