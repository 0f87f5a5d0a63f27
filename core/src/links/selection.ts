/** Which tags a link carries: several searches added up. What matches later is carried from then on. */

import { liesIn } from '../configuration/places.ts';

/** As much of a tag as it is searched by. */
export interface SearchedTag {
  readonly name: string;
  readonly description: string;
  /** `site / area / unit`; empty where nobody said. */
  readonly place: string;
  readonly unit: string;
  readonly labels?: Readonly<Record<string, string>> | null;
}

/** Tags in which every word occurs and that lie in a place; without words all of that place, without a place wherever. */
export interface Selection {
  readonly search: string;
  readonly place: string;
}

/** The words of a search, each of which has to occur. */
export const wordsOf = (search: string): string[] => search.toLowerCase().split(/\s+/).filter(Boolean);

/** What a tag is searched by. */
export const searchedText = ({ name, description, place, unit, labels }: SearchedTag): string =>
  `${name} ${description} ${place} ${unit} ${labelWords(labels)}`.toLowerCase();

/** Labels as they are searched for and shown: `pump=3 line=A`. */
export const labelWords = (labels: Readonly<Record<string, string>> | null | undefined): string =>
  Object.entries(labels ?? {})
    .map(([label, text]) => `${label}=${text}`)
    .join(' ');

/** The tags that one of the selections takes, in their order. */
export function chosenTags<Tag extends SearchedTag>(tags: readonly Tag[], selections: readonly Selection[]): Tag[] {
  const wanted = selections.map(({ search, place }) => ({ words: wordsOf(search), place }));
  return tags.filter((tag) => {
    const text = searchedText(tag);
    return wanted.some(({ words, place }) => liesIn(tag.place, place) && words.every((word) => text.includes(word)));
  });
}
