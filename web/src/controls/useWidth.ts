import { useEffect, useState, type RefObject } from 'react';

/** How large an element is in one direction, in whole pixels, as it changes. @param before it is known. */
function useExtent(box: RefObject<HTMLElement | null>, before: number, along: 'width' | 'height'): number {
  const [extent, setExtent] = useState(before);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setExtent(Math.round(entry.contentRect[along])));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, [box, along]);
  return extent;
}

export const useWidth = (box: RefObject<HTMLElement | null>, before: number): number => useExtent(box, before, 'width');
export const useHeight = (box: RefObject<HTMLElement | null>, before: number): number =>
  useExtent(box, before, 'height');
