/** What is odd about the names and descriptions of tags, with what would mend it. Pure. */
import type { DraftChange } from '@wide-ledger/contract';
import {
  misspelt,
  nameByRules,
  nameIn,
  namingProblems,
  nearDuplicates,
  putRight,
  rulesOf,
  wordsIn,
  type Body,
} from '@wide-ledger/core';
import type { Standing } from '../configuration/drafting.ts';

export interface NameFinding {
  /** What it is about: a tag's name, names that look alike, or a word. */
  readonly about: string;
  readonly sentences: readonly string[];
  /** The tags that it concerns, by name. */
  readonly tags: readonly string[];
  /** What would mend it, in words, and as changes of the draft; null where that is for a person to say. */
  readonly mends: { readonly says: string; readonly changes: readonly DraftChange[] } | null;
}

export interface NameFindings {
  readonly againstRules: readonly NameFinding[];
  readonly alike: readonly NameFinding[];
  readonly words: readonly NameFinding[];
}

const descriptionIn = (body: Body | null): string => (typeof body?.description === 'string' ? body.description : '');

/** @param tags as the draft has them. @param places with their rules, as the draft has them */
export function nameFindings(tags: readonly Standing[], places: readonly Standing[]): NameFindings {
  const bodies = new Map(places.map(({ id, body }) => [id, body ?? undefined]));
  const names = new Set(tags.map(({ body }) => nameIn(body)));
  const againstRules = tags.flatMap(({ id, body }): NameFinding[] => {
    const name = nameIn(body);
    const rules = rulesOf(body?.place, (place) => bodies.get(place));
    const sentences = rules ? namingProblems(name, rules) : [];
    if (!rules || sentences.length === 0) return [];
    const proposed = nameByRules(name, rules);
    const isFree = proposed !== null && !names.has(proposed);
    if (isFree) names.add(proposed);
    return [
      {
        about: name,
        sentences: proposed === null || isFree ? sentences : [...sentences, `${proposed} would, and is another tag.`],
        tags: [name],
        mends: isFree
          ? { says: `Rename to ${proposed}`, changes: [{ kind: 'tag', id, set: { name: proposed } }] }
          : null,
      },
    ];
  });
  const alike = nearDuplicates(tags.map(({ body }) => nameIn(body))).map((group): NameFinding => ({
    about: group.join(', '),
    sentences: ['Read in passing, these are one name.'],
    tags: group,
    mends: null,
  }));
  return { againstRules, alike, words: wordFindings(tags) };
}

function wordFindings(tags: readonly Standing[]): NameFinding[] {
  const words = misspelt(tags.map(({ body }) => descriptionIn(body)));
  const holding = new Map<string, Standing[]>();
  for (const tag of tags) {
    for (const word of new Set(wordsIn(descriptionIn(tag.body))))
      if (words.has(word)) holding.set(word, [...(holding.get(word) ?? []), tag]);
  }
  return [...holding].map(([word, among]): NameFinding => {
    const wrong = words.get(word)!;
    return {
      about: word,
      sentences: [`Elsewhere it is written ${wrong.probably}.`],
      tags: among.map(({ body }) => nameIn(body)),
      mends: {
        says: `Write ${wrong.probably}`,
        changes: among.map(({ id, body }) => ({
          kind: 'tag',
          id,
          set: { description: putRight(descriptionIn(body), new Map([[word, wrong]])) },
        })),
      },
    };
  });
}
