/**
 * What the letters of an instrument's name say: the first what is measured, those behind it what is done with it. The
 * letters are those of ISA-5.1 (from memory); what it leaves to the user is left open here, too.
 */

const MEASURED: Readonly<Record<string, string>> = {
  A: 'analysis',
  B: 'burner',
  C: 'chosen by the site',
  D: 'chosen by the site',
  E: 'voltage',
  F: 'flow',
  G: 'chosen by the site',
  H: 'by hand',
  I: 'current',
  J: 'power',
  K: 'time',
  L: 'level',
  M: 'chosen by the site',
  N: 'chosen by the site',
  O: 'chosen by the site',
  P: 'pressure',
  Q: 'quantity',
  R: 'radiation',
  S: 'speed',
  T: 'temperature',
  U: 'several variables',
  V: 'vibration',
  W: 'weight',
  X: 'unclassified',
  Y: 'event or state',
  Z: 'position',
};

/** Directly behind the first letter these change what is measured. */
const MODIFIES: Readonly<Record<string, string>> = {
  D: 'difference',
  F: 'ratio',
  J: 'scanned',
  K: 'rate of change',
  Q: 'added up',
  X: 'axis X',
  Y: 'axis Y',
  Z: 'axis Z',
};

const DOES: Readonly<Record<string, string>> = {
  A: 'alarms',
  B: 'chosen by the site',
  C: 'controls',
  E: 'senses',
  G: 'is seen',
  H: 'high',
  I: 'indicates',
  K: 'control station',
  L: 'low',
  M: 'middle',
  N: 'chosen by the site',
  O: 'orifice',
  P: 'test point',
  R: 'records',
  S: 'switches',
  T: 'transmits',
  U: 'several functions',
  V: 'valve',
  W: 'well',
  X: 'unclassified',
  Y: 'computes',
  Z: 'drives',
};

/** Letters that stand right before a number, whether a sign is between them or not. */
const BEFORE_NUMBER = /(?<![\p{L}\d])(\p{L}+)[^\p{L}\d]?\d+/gu;
const MOST_LETTERS = 5;

/** The letters of a name that say what the instrument does: those before its last number; null where there are none. */
export const instrumentLetters = (name: string): string | null => [...name.matchAll(BEFORE_NUMBER)].at(-1)?.[1] ?? null;

/** What letters say, each in words: `PDI` pressure, difference, indicates. Null where one of them says nothing in its place. */
export function meaningOf(letters: string): readonly string[] | null {
  if (letters.length < 2 || letters.length > MOST_LETTERS) return null;
  const [first, second, ...rest] = [...letters.toUpperCase()];
  const measured = MEASURED[first!];
  // At the end a letter says what is done; before others it changes what is measured, where it can.
  const next = rest.length > 0 ? (MODIFIES[second!] ?? DOES[second!]) : (DOES[second!] ?? MODIFIES[second!]);
  const does = rest.map((letter) => DOES[letter]);
  const words = [measured, next, ...does];
  return words.every((word) => word !== undefined) ? words : null;
}
