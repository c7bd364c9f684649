import { useVirtualizer, useWindowVirtualizer, type Virtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import styles from './windowedRows.module.css';

interface RowsProps<T> {
  items: readonly T[];
  keyOf(item: T): number;
  /** About as high as one is, in pixels. */
  rowHeight: number;
  label: string;
  className: string | undefined;
  children(item: T): ReactNode;
}

const OVERSCAN = 12;

/** A list of hundreds that scrolls with the page; only the rows near the window are drawn. */
export function WindowedRows<T>(props: RowsProps<T>) {
  const { items, keyOf, rowHeight } = props;
  const place = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  // What stands above can come and go.
  useLayoutEffect(() => setTop(Math.round(place.current!.getBoundingClientRect().top + window.scrollY)), [items]);
  const rows = useWindowVirtualizer({
    count: items.length,
    estimateSize: () => rowHeight,
    overscan: OVERSCAN,
    scrollMargin: top,
    getItemKey: (index) => keyOf(items[index]!),
  });
  return (
    <div ref={place}>
      <Rows {...props} rows={rows} top={top} />
    </div>
  );
}

/** A list of hundreds that scrolls by itself. */
export function BoxedRows<T>({ boxClass, ...props }: RowsProps<T> & { boxClass: string | undefined }) {
  const { items, keyOf, rowHeight } = props;
  const box = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- nothing here is memoised by it
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: OVERSCAN,
    getItemKey: (index) => keyOf(items[index]!),
  });
  return (
    <div ref={box} className={boxClass}>
      <Rows {...props} rows={rows} top={0} />
    </div>
  );
}

interface DrawnRowsProps<T, Box extends Element | Window> extends RowsProps<T> {
  rows: Virtualizer<Box, Element>;
  top: number;
}

function Rows<T, Box extends Element | Window>(props: DrawnRowsProps<T, Box>) {
  const { rows, top, items, label, className, children } = props;
  return (
    <ul className={`${styles.rows} ${className}`} aria-label={label} style={{ height: rows.getTotalSize() }}>
      {rows.getVirtualItems().map(({ index, key, start }) => (
        <li
          data-row
          key={key}
          ref={rows.measureElement}
          data-index={index}
          aria-setsize={items.length}
          aria-posinset={index + 1}
          style={{ transform: `translateY(${start - top}px)` }}
        >
          {children(items[index]!)}
        </li>
      ))}
    </ul>
  );
}
