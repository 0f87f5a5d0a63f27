/** Names that people take for the same. */

/** Letters that behind a digit are mistaken for one. */
const ALIKE: Readonly<Record<string, string>> = { o: '0', i: '1', l: '1' };

/**
 * What is left of a name for somebody who reads it in passing: no signs, no capitals, numbers without leading zeros, and
 * within a number O as 0, I and L as 1. Two names that leave the same are taken for each other.
 */
export function readInPassing(name: string): string {
  const small = name
    .toLowerCase()
    .replace(/(?<=\d)[oil]+/g, (letters) => [...letters].map((one) => ALIKE[one]!).join(''));
  const parts = small.match(/\p{L}+|\d+/gu) ?? [];
  // Two numbers stay two: 1-10 is not 110.
  return parts
    .map((part, i) => {
      if (!/\d/.test(part)) return part;
      const number = part.replace(/^0+(?=\d)/, '');
      return i > 0 && /\d/.test(parts[i - 1]!) ? `.${number}` : number;
    })
    .join('');
}

/** Names that are taken for each other, two or more in each group; each name once. @param names all different */
export function nearDuplicates(names: readonly string[]): readonly (readonly string[])[] {
  const groups = new Map<string, string[]>();
  for (const name of names) {
    const key = readInPassing(name);
    const group = groups.get(key);
    if (group) group.push(name);
    else groups.set(key, [name]);
  }
  return [...groups.values()].filter((group) => group.length > 1);
}
