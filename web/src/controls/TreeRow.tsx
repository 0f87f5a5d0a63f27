import { ChevronDown, ChevronRight } from 'lucide-react';
import type { ReactNode } from 'react';

interface Props {
  /** How deep it lies; 1 is the root. */
  readonly level: number;
  /** Null where nothing lies below it. */
  readonly open: boolean | null;
  readonly onOpen: (open: boolean) => void;
  readonly selected: boolean;
  readonly onSelect: () => void;
  readonly marked?: boolean;
  readonly onMark?: () => void;
  readonly children: ReactNode;
}

/** A row of a tree: Enter chooses it, Space marks it, the arrows to the sides open and close what lies below it. */
export function TreeRow({ level, open, onOpen, selected, onSelect, marked = false, onMark, children }: Props) {
  const Chevron = open ? ChevronDown : ChevronRight;
  const edge = selected ? 'border-l-verdigris' : marked ? 'border-l-ochre' : 'border-l-transparent';
  return (
    <div
      role="treeitem"
      tabIndex={0}
      aria-level={level}
      aria-selected={selected || marked}
      {...(open === null ? {} : { 'aria-expanded': open })}
      onClick={onSelect}
      onKeyDown={(event) => {
        if (event.target !== event.currentTarget) return;
        if (event.key === 'Enter') onSelect();
        else if (event.key === ' ' && onMark) onMark();
        else if (event.key === 'ArrowRight' && open === false) onOpen(true);
        else if (event.key === 'ArrowLeft' && open === true) onOpen(false);
        else return;
        event.preventDefault();
      }}
      className={`row flex cursor-pointer items-center gap-3 border-l-[3px] ${edge} ${selected || marked ? 'bg-raised' : 'hover:bg-raised'}`}
    >
      <span className="flex min-w-0 flex-1 items-center gap-2" style={{ paddingLeft: (level - 1) * 18 }}>
        <span
          aria-hidden
          className="flex h-6 w-6 shrink-0 items-center justify-center text-ink-2"
          onClick={(event) => {
            event.stopPropagation();
            if (open !== null) onOpen(!open);
          }}
        >
          {open !== null && <Chevron size={14} />}
        </span>
        {children}
      </span>
    </div>
  );
}
