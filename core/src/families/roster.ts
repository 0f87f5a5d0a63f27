/** A roster: over what a pattern is expanded. Each variable has a list; lists go side by side, or in all combinations. */

export interface Variable {
  readonly name: string;
  /** `1-12`, `001-012`, `A, B, C`, or several of these after each other. */
  readonly list: string;
}

export const ROSTER_WAYS = ['all combinations', 'side by side'] as const;
export type RosterWay = (typeof ROSTER_WAYS)[number];

/** What the variables are for one of what a pattern becomes. */
export type Assignment = Readonly<Record<string, string>>;

/** What a roster may come to. */
export const MOST_EXPANDED = 20_000;

const NAME = /^[A-Za-z_]\w*$/;
const RANGE = /^(\d+)\s*(?:-|–|\.\.)\s*(\d+)$/;

/** The texts of a list, in its order. Ranges keep the leading zeros of their beginning. @throws RangeError with a sentence */
export function textsOfList(list: string): string[] {
  return list
    .split(',')
    .map((part) => part.trim())
    .filter((part) => part !== '')
    .flatMap((part) => {
      const [, from, to] = RANGE.exec(part) ?? [];
      if (from === undefined || to === undefined) return [part];
      const [first, last] = [Number(from), Number(to)];
      if (last < first) throw new RangeError(`${part} runs backwards: write ${to}-${from}.`);
      if (last - first >= MOST_EXPANDED) throw new RangeError(`${part} is more than ${MOST_EXPANDED}.`);
      return Array.from({ length: last - first + 1 }, (_, i) => String(first + i).padStart(from.length, '0'));
    });
}

/** Every assignment of a roster, the last variable turning fastest. @throws RangeError with a sentence */
export function assignmentsOf(variables: readonly Variable[], way: RosterWay): Assignment[] {
  const lists = variables.map(({ name, list }) => {
    if (!NAME.test(name))
      throw new RangeError(`"${name}" is no name of a variable: letters, digits and _, a letter first.`);
    const texts = textsOfList(list);
    if (texts.length === 0) throw new RangeError(`The list of ${name} is empty.`);
    return { name, texts };
  });
  const [twice] = lists.filter(({ name }, i) => lists.findIndex((one) => one.name === name) !== i);
  if (twice) throw new RangeError(`${twice.name} is there twice.`);
  if (lists.length === 0) return [];
  if (way === 'side by side') {
    const [first] = lists;
    const other = lists.find(({ texts }) => texts.length !== first!.texts.length);
    if (other)
      throw new RangeError(
        `Side by side the lists are as long as each other: ${first!.name} has ${first!.texts.length}, ${other.name} has ${other.texts.length}.`,
      );
    return first!.texts.map((_, i) => Object.fromEntries(lists.map(({ name, texts }) => [name, texts[i]!])));
  }
  const count = lists.reduce((product, { texts }) => product * texts.length, 1);
  if (count > MOST_EXPANDED) throw new RangeError(`All combinations are ${count}; ${MOST_EXPANDED} are the most.`);
  return lists.reduce<Assignment[]>(
    (all, { name, texts }) => all.flatMap((one) => texts.map((text) => ({ ...one, [name]: text }))),
    [{}],
  );
}
