/** The selected row of a list: kept in the address, moved by arrows, closed by Escape. */
import { useEffect } from 'react';
import { useSearchParams } from 'react-router';

export interface Selection {
  readonly selected: string | null;
  readonly select: (key: string | null) => void;
}

/** @param keys of the rows in order, for the arrows. */
export function useSelection(keys: readonly string[]): Selection {
  const [search, setSearch] = useSearchParams();
  const selected = search.get('row');
  const select = (key: string | null): void => {
    setSearch(
      (current) => {
        if (key === null) current.delete('row');
        else current.set('row', key);
        return current;
      },
      { replace: true },
    );
  };
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (
        event.target instanceof HTMLElement &&
        event.target.closest('input, select, textarea, [role=slider], [role=dialog]')
      )
        return;
      if (event.key === 'Escape') select(null);
      if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
      const at = selected === null ? -1 : keys.indexOf(selected);
      const next = keys[at + (event.key === 'ArrowDown' ? 1 : -1)];
      if (next === undefined) return;
      event.preventDefault();
      select(next);
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  });
  return { selected, select };
}
