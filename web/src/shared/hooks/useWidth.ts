import { useCallback, useState, type RefCallback } from 'react';

/** The width of an element in whole pixels, kept up to date; 0 until it is known. Give it the returned ref. */
export function useWidth<T extends HTMLElement>(): [ref: RefCallback<T>, width: number] {
  const [width, setWidth] = useState(0);
  const ref = useCallback((element: T) => {
    setWidth(Math.floor(element.getBoundingClientRect().width));
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry?.contentRect.width ?? 0)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
