import type { ReactNode } from 'react';

interface Props {
  readonly selected: boolean;
  readonly onSelect: () => void;
  readonly children: ReactNode;
}

/** A row of a list: chosen by a click or Enter, marked while its leaf is open. */
export function ListRow({ selected, onSelect, children }: Props) {
  return (
    <div
      role="option"
      tabIndex={0}
      aria-selected={selected}
      onClick={onSelect}
      onKeyDown={(event) => event.key === 'Enter' && onSelect()}
      className={`row flex cursor-pointer items-center gap-3 border-l-[3px] ${selected ? 'border-l-verdigris bg-raised' : 'border-l-transparent hover:bg-raised'}`}
    >
      {children}
    </div>
  );
}
