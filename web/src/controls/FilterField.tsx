interface Props {
  readonly label: string;
  readonly hint: string;
  readonly width: string;
  readonly words: string;
  readonly onWords: (words: string) => void;
}

/** The filter of a list: `/` puts the cursor there. */
export function FilterField({ label, hint, width, words, onWords }: Props) {
  return (
    <input
      data-filter
      type="search"
      aria-label={label}
      placeholder={`/  ${hint}`}
      className={`h-[30px] rounded-paper border border-edge bg-raised px-2.5 ${width}`}
      value={words}
      onChange={(event) => onWords(event.target.value)}
    />
  );
}
