import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { MessageSummary } from '@kiraku/core/contract';
import { TrailAxis } from '../ui/Trail.js';
import { SentRow } from './SentRow.js';

/** Of a row on the desk; narrow ones are measured. */
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
  const place = () => setTop(list.current?.offsetTop ?? 0);
  useLayoutEffect(place, [chosen]);
  const rows = useWindowVirtualizer({
    count: messages.length,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
    scrollMargin: top,
    getItemKey: (index) => messages[index]!.id,
  });
  return (
    <div className="sent-list">
      <div className={`sent-row sent-head ${chosen ? 'sent-choosing' : ''}`} aria-hidden="true">
        {chosen && <span />}
        <span>To</span>
        <span>Subject and where it stands</span>
        <TrailAxis />
        <span className="sent-when">Sent</span>
      </div>
      <ul ref={list} onKeyDown={moveFocus} style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, key, start }) => {
          const message = messages[index]!;
          return (
            <li
              key={key}
              ref={rows.measureElement}
              data-index={index}
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
    </div>
  );
}

/** Arrow keys go from row to row. */
function moveFocus(event: KeyboardEvent<HTMLUListElement>): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (!step) return;
  const links = [...event.currentTarget.querySelectorAll<HTMLElement>('a.sent-link')];
  const next = links[links.indexOf(document.activeElement as HTMLElement) + step];
  if (!next) return;
  event.preventDefault();
  next.focus();
}
