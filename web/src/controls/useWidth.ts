import { useEffect, useState, type RefObject } from 'react';

/** How wide an element is, in whole pixels, as it changes. @param before it is known. */
export function useWidth(box: RefObject<HTMLElement | null>, before: number): number {
  const [width, setWidth] = useState(before);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(Math.round(entry.contentRect.width)));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, [box]);
  return width;
}
