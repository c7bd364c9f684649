import { useCallback, useState, type RefCallback } from 'react';

/** What an element of each kind was wide last, in whole pixels. */
const widths = new Map<string, number>();

/**
 * The width of an element in whole pixels, kept up to date; 0 until it is known. Give it the returned ref. What the
 * element holds has no say in how wide it is: a chart as wide as the window was would hold it open when the window gets
 * narrower.
 *
 * @param kind of elements that come in great numbers and are as wide as each other: the next begins with what the last
 *   one had, since to measure each the browser would have to lay out the page each time
 */
export function useWidth<T extends HTMLElement>(kind?: string): [ref: RefCallback<T>, width: number] {
  const [width, setWidth] = useState(() => (kind && widths.get(kind)) || 0);
  const ref = useCallback(
    (element: T) => {
      element.style.contain = 'inline-size';
      const learn = (pixels: number) => {
        if (kind) widths.set(kind, Math.floor(pixels));
        setWidth(Math.floor(pixels));
      };
      if (!kind || !widths.get(kind)) learn(element.getBoundingClientRect().width);
      // It says how wide the element is before that is first painted, and again whenever it has changed.
      const observer = new ResizeObserver(([entry]) => learn(entry?.contentRect.width ?? 0));
      observer.observe(element);
      return () => observer.disconnect();
    },
    [kind],
  );
  return [ref, width];
}
