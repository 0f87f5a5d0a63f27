/**
 * Words that are likely misspelt, by what the site itself writes: a rare word that is one slip away from a frequent one.
 * That needs no dictionary, and knows the words and the language of the plant.
 */

/** Shorter ones have too many neighbours that are words themselves. */
const SHORTEST = 5;
/** So often a word is written where it is taken for right. */
const FREQUENT = 4;
/** By so much more often than the one that is taken for its misspelling. */
const RATIO = 4;

export interface Misspelling {
  /** As it is written, in small letters. */
  readonly word: string;
  /** What is written elsewhere. */
  readonly probably: string;
}

const WORD = /\p{L}+/gu;

export const wordsIn = (text: string): readonly string[] => text.toLowerCase().match(WORD) ?? [];

/** How often each word is written. */
function countsOf(texts: Iterable<string>): Map<string, number> {
  const counts = new Map<string, number>();
  for (const text of texts) for (const word of wordsIn(text)) counts.set(word, (counts.get(word) ?? 0) + 1);
  return counts;
}

/**
 * The misspelt words of texts, by word. Neighbours are found by what is left when a letter is left out: the work grows
 * with the words, not with their pairs.
 */
export function misspelt(texts: Iterable<string>): ReadonlyMap<string, Misspelling> {
  const counts = countsOf(texts);
  const shortened = new Map<string, string[]>();
  const frequent = [...counts].filter(([word, count]) => word.length >= SHORTEST - 1 && count >= FREQUENT);
  for (const [word] of frequent)
    for (const left of withoutOne(word)) shortened.set(left, [...(shortened.get(left) ?? []), word]);
  const found = new Map<string, Misspelling>();
  for (const [word, count] of counts) {
    if (word.length < SHORTEST) continue;
    const near = new Set([word, ...withoutOne(word)].flatMap((left) => shortened.get(left) ?? []));
    // A word that lacks a letter of a frequent one, or has one too many, or another one, or two the wrong way round.
    const right = [...near]
      .filter((other) => counts.get(other)! >= RATIO * count && isOneSlip(word, other) && !areBothWords(word, other))
      .sort((a, b) => counts.get(b)! - counts.get(a)! || (a < b ? -1 : 1))[0];
    if (right !== undefined) found.set(word, { word, probably: right });
  }
  return found;
}

/** A word without each of its letters, and itself, since another one may have one more. */
function withoutOne(word: string): Set<string> {
  const left = new Set([word]);
  for (let i = 0; i < word.length; i++) left.add(word.slice(0, i) + word.slice(i + 1));
  return left;
}

/** Whether one letter is missing, too many or another one, or two neighbours changed places. */
export function isOneSlip(a: string, b: string): boolean {
  if (a === b || Math.abs(a.length - b.length) > 1) return false;
  let start = 0;
  while (start < a.length && start < b.length && a[start] === b[start]) start++;
  let [endA, endB] = [a.length, b.length];
  while (endA > start && endB > start && a[endA - 1] === b[endB - 1]) [endA, endB] = [endA - 1, endB - 1];
  const [restA, restB] = [a.slice(start, endA), b.slice(start, endB)];
  if (restA.length <= 1 && restB.length <= 1) return true;
  return restA.length === 2 && restB.length === 2 && restA === restB[1]! + restB[0]!;
}

/**
 * Whether they differ only in their first letter or their last: power and lower, counter and counted, pump and pumps are
 * words, and slips are seldom made there.
 */
const areBothWords = (a: string, b: string): boolean =>
  a.slice(1) === b.slice(1) || a.slice(1) === b || a === b.slice(1) || withoutLast(a, b) || withoutLast(b, a);

const withoutLast = (a: string, b: string): boolean => a.slice(0, -1) === b || a.slice(0, -1) === b.slice(0, -1);

/** A text with the misspelt words put right; capitals at the beginning of a word stay. */
export const putRight = (text: string, words: ReadonlyMap<string, Misspelling>): string =>
  text.replace(WORD, (written) => {
    const right = words.get(written.toLowerCase())?.probably;
    if (right === undefined) return written;
    if (written === written.toUpperCase()) return right.toUpperCase();
    return written.startsWith(written[0]!.toUpperCase()) ? right[0]!.toUpperCase() + right.slice(1) : right;
  });
