import { measureElement, useWindowVirtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState, type FocusEvent, type KeyboardEvent, type PointerEvent } from 'react';
import type { MessageSummary } from '@kiraku/core/contract';
import { useIsPhone } from '../shared/hooks/useIsPhone.js';
import { useAppSelector } from '../shared/store/store.js';
import { TrailAxis } from '../shared/ui/Trail.js';
import { Glance, GLANCE_KEYS, type GlanceAction } from './Glance.js';
import { SentRow } from './SentRow.js';
import styles from './sent.module.css';

/** How long the pointer rests on a row until its essentials are shown, and how long they outlive its leaving. */
const REST_MS = 600;
const LINGER_MS = 250;
/** Of nearly every row on a wide window. */
const ROW_HEIGHT = 59;

interface SentRowsProps {
  messages: MessageSummary[];
  /** Where searched words stand, by the number of the message. */
  found: Record<number, string>;
  /** Null while none are being chosen. */
  chosen: ReadonlySet<number> | null;
  choose(id: number, isChosen: boolean): void;
}

/** The list with its trails. Only the rows near the window are drawn, however long it is. */
export function SentRows({ messages, found, chosen, choose }: SentRowsProps) {
  const list = useRef<HTMLUListElement>(null);
  const [top, setTop] = useState(0);
  const isPhone = useIsPhone();
  const place = () => setTop(list.current?.offsetTop ?? 0);
  useLayoutEffect(place, [chosen]);
  const rows = useWindowVirtualizer({
    count: messages.length,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
    scrollMargin: top,
    getItemKey: (index) => messages[index]!.id,
    // Under a burst of activity many rows come at once: to measure each as it comes, the browser would have to lay out
    // the page each time. It says how high they are before they are painted.
    measureElement: (element, entry, virtualizer) =>
      entry || isPhone ? measureElement(element, entry, virtualizer) : ROW_HEIGHT,
  });
  const glance = useGlance((id) => choose(id, !chosen?.has(id)), chosen !== null);
  const near = rows.getVirtualItems().find(({ index }) => messages[index]!.id === glance.id);
  return (
    <div className={styles.list}>
      <div className={`${styles.row} ${styles.head} ${chosen ? styles.choosing : ''}`} aria-hidden="true">
        {chosen && <span />}
        <span>To</span>
        <span>Subject and status</span>
        <TrailAxis />
        <span className={styles.when}>Sent</span>
      </div>
      <div className={styles.rows} {...glance.listeners}>
        <ul ref={list} style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, key, start }) => {
            const message = messages[index]!;
            return (
              <li
                key={key}
                ref={rows.measureElement}
                data-index={index}
                data-id={message.id}
                data-row
                aria-setsize={messages.length}
                aria-posinset={index + 1}
                style={{ transform: `translateY(${start - top}px)` }}
              >
                <SentRow
                  message={message}
                  found={found[message.id]}
                  isChosen={chosen ? chosen.has(message.id) : null}
                  choose={choose}
                />
              </li>
            );
          })}
        </ul>
        {near && !chosen && <Glance id={glance.id!} top={near.end - top} action={glance.action} done={glance.done} />}
      </div>
    </div>
  );
}

/**
 * Which row one rests on, with the pointer or the keyboard, and what is asked of it by a key.
 *
 * @param toggle selects a message, or not any more
 * @param isSelecting then the essentials are not shown, and nothing is done with a row by itself
 */
function useGlance(toggle: (id: number) => void, isSelecting: boolean) {
  const areKeysOn = useAppSelector(({ keys }) => keys);
  const [id, setId] = useState<number | null>(null);
  const [action, setAction] = useState<GlanceAction | null>(null);
  const timer = useRef<number>(undefined);
  const after = (waitMs: number, next: number | null) => {
    clearTimeout(timer.current);
    timer.current = window.setTimeout(() => setId(next), waitMs);
  };
  const listeners = {
    onPointerOver: (event: PointerEvent<HTMLDivElement>) => {
      if (event.pointerType !== 'mouse') return;
      const target = event.target as HTMLElement;
      if (target.closest(`.${styles.glance}`)) clearTimeout(timer.current);
      else after(REST_MS, rowOf(target));
    },
    onPointerLeave: () => after(LINGER_MS, null),
    onFocus: (event: FocusEvent<HTMLDivElement>) => {
      // What is pressed with the pointer is about to be left.
      if (!event.target.matches(`.${styles.link}:focus-visible`)) return;
      clearTimeout(timer.current);
      setId(rowOf(event.target));
    },
    onBlur: () => after(LINGER_MS, null),
    onKeyDown: (event: KeyboardEvent<HTMLDivElement>) => {
      if (event.key === 'Escape') setId(null);
      const row = (event.target as HTMLElement).matches(`.${styles.link}`) ? rowOf(event.target as HTMLElement) : null;
      if (row === null || !areKeysOn || event.ctrlKey || event.metaKey || event.altKey) return;
      const key = event.key.toLowerCase();
      const asked = GLANCE_KEYS[key as keyof typeof GLANCE_KEYS];
      if (key === 's') toggle(row);
      if (!asked || isSelecting) return;
      setId(row);
      setAction(asked);
    },
  };
  return { id, action, done: () => setAction(null), listeners };
}

/** The number of the message in whose row an element stands. */
function rowOf(element: HTMLElement): number | null {
  const row = element.closest<HTMLElement>('li[data-id]');
  return row && Number(row.dataset['id']);
}
