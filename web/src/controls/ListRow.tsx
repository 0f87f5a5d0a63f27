import type { ReactNode } from 'react';
import { Mark } from './Mark.tsx';

interface Props {
  readonly selected: boolean;
  readonly onSelect: () => void;
  /** Where rows can be marked: what it is called, whether it is, and to mark it or take the mark away. */
  readonly marking?: { readonly name: string; readonly marked: boolean; readonly onMark: () => void };
  readonly children: ReactNode;
}

/** A row of a list: chosen by a click or Enter, marked by Space; its edge tells while its leaf is open. */
export function ListRow({ selected, onSelect, marking, children }: Props) {
  const edge = selected
    ? 'border-l-verdigris bg-raised'
    : marking?.marked
      ? 'border-l-ochre bg-raised'
      : 'border-l-transparent hover:bg-raised';
  return (
    <div
      role="option"
      tabIndex={0}
      aria-selected={selected || marking?.marked === true}
      onClick={(event) => (marking && (event.ctrlKey || event.metaKey) ? marking.onMark() : onSelect())}
      onKeyDown={(event) => {
        if (event.key === 'Enter') onSelect();
        if (event.key === ' ' && marking) {
          event.preventDefault();
          marking.onMark();
        }
      }}
      className={`row flex cursor-pointer items-center gap-3 border-l-[3px] ${edge}`}
    >
      {marking && <Mark {...marking} />}
      {children}
    </div>
  );
}
