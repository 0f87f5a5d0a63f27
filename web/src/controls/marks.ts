import { useState } from 'react';

/** Rows that were marked to be changed together. */
export interface Marks {
  readonly marked: ReadonlySet<number>;
  readonly mark: (id: number) => void;
  readonly clear: () => void;
}

export function useMarks(): Marks {
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  const mark = (id: number): void => {
    const next = new Set(marked);
    if (!next.delete(id)) next.add(id);
    setMarked(next);
  };
  return { marked, mark, clear: () => setMarked(new Set()) };
}
