/** Fetches the next page of a list before its end is scrolled to. */
import { useEffect } from 'react';

const AHEAD = 60;

interface Pages {
  readonly hasNextPage: boolean;
  readonly isFetchingNextPage: boolean;
  readonly fetchNextPage: () => Promise<unknown>;
}

/** @param lastShown index of the last row on screen. @param rows how many there are so far. */
export function useMoreAt(lastShown: number, rows: number, pages: Pages): void {
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = pages;
  useEffect(() => {
    if (lastShown > rows - AHEAD && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [lastShown, rows, hasNextPage, isFetchingNextPage, fetchNextPage]);
}
