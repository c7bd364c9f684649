import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { personActivityText, personText } from '@kiraku/core/sentences';
import type { PersonRow } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import styles from './people.module.css';

const ROW_HEIGHT = 41;

/** The list of people; only the rows near the window are drawn. */
export function PeopleRows({ people }: { people: PersonRow[] }) {
  const list = useRef<HTMLUListElement>(null);
  const [top, setTop] = useState(0);
  const place = () => setTop(list.current?.offsetTop ?? 0);
  useLayoutEffect(place, []);
  const rows = useWindowVirtualizer({
    count: people.length,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    scrollMargin: top,
    getItemKey: (index) => people[index]!.id,
  });
  return (
    <ul ref={list} className={`${styles.list} ${styles.windowed}`} style={{ height: rows.getTotalSize() }}>
      {rows.getVirtualItems().map(({ index, key, start }) => (
        <li
          data-row
          key={key}
          ref={rows.measureElement}
          data-index={index}
          aria-setsize={people.length}
          aria-posinset={index + 1}
          className={styles.row}
          style={{ transform: `translateY(${start - top}px)` }}
        >
          <Row person={people[index]!} />
        </li>
      ))}
    </ul>
  );
}

function Row({ person }: { person: PersonRow }) {
  const now = useNow();
  const { id, name, address, company, messages } = person;
  return (
    <>
      <Link to={`/people/${id}`} className={`${styles.name} plain-link`}>
        {personText(person)}
      </Link>
      <span className="soft">{[name && address, company].filter(Boolean).join(', ')}</span>
      <span className="soft">{personActivityText(person, now)}</span>
      <span className="figures soft">{counted(messages, 'message')}</span>
    </>
  );
}
