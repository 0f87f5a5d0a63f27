/** Fetches the next page of a list before its end is scrolled to. */
import type { useTags } from '../server/queries.ts';
import { useEffect } from 'react';

const AHEAD = 60;

type Pages = Pick<ReturnType<typeof useTags>, 'hasNextPage' | 'isFetchingNextPage' | 'fetchNextPage'>;

/** @param lastShown index of the last row on screen. @param rows how many there are so far. */
export function useMoreAt(lastShown: number, rows: number, pages: Pages): void {
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = pages;
  useEffect(() => {
    if (lastShown > rows - AHEAD && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [lastShown, rows, hasNextPage, isFetchingNextPage, fetchNextPage]);
}
