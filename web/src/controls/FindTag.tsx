/** Finds a tag by what is typed, among all that are in force; Enter takes the first one. */
import type { Tag } from '@wide-ledger/contract';
import { searchedText, wordsOf } from '@wide-ledger/core';
import { useState } from 'react';
import { useTags } from '../server/queries.ts';

interface Props {
  readonly id: string;
  readonly label: string;
  readonly placeholder: string;
  /** Names that are not found any more. */
  readonly without: readonly string[];
  readonly disabled?: boolean;
  /** The slash leads to it. */
  readonly isFilter?: boolean;
  readonly className: string;
  readonly onFind: (tag: Tag) => void;
}

export function FindTag({ id, label, placeholder, without, disabled, isFilter, className, onFind }: Props) {
  const [words, setWords] = useState('');
  const { data } = useTags(words.trim());
  // While the next answer is on its way the last one stands here: only what fits what is typed now may be taken.
  const typed = wordsOf(words);
  const fits = (tag: Tag): boolean => typed.every((word) => searchedText(tag).includes(word));
  const found = (data?.pages[0]?.tags ?? []).filter((tag) => !without.includes(tag.name) && fits(tag));
  const exact = (given: string): Tag | undefined => found.find(({ name }) => name === given.trim());
  const take = (tag: Tag | undefined): void => {
    if (tag === undefined) return;
    onFind(tag);
    setWords('');
  };
  const type = (given: string): void => {
    setWords(given);
    // A name that is complete was picked from the list.
    if (given.length > words.length + 1) take(exact(given));
  };
  return (
    <>
      <input
        {...(isFilter ? { 'data-filter': true } : {})}
        list={id}
        aria-label={label}
        placeholder={placeholder}
        disabled={disabled}
        className={className}
        value={words}
        onChange={(event) => type(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && words.trim()) take(exact(words) ?? found[0]);
        }}
      />
      <datalist id={id}>
        {found.map((tag) => (
          <option key={tag.id} value={tag.name}>
            {tag.description}
          </option>
        ))}
      </datalist>
    </>
  );
}
