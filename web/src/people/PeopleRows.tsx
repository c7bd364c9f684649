import { Button } from 'antd';
import { defaultRangeExtractor, useWindowVirtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { contactText, nextReminderText, personActivityText, personText } from '@kiraku/core/sentences';
import type { PersonRow } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { ToMessages } from '../shared/ui/ToMessages.js';
import { EditPerson } from './EditPerson.js';
import styles from './people.module.css';

const ROW_HEIGHT = 63;

/** The list of people; only the rows near the window are drawn, and those that are being edited. */
export function PeopleRows({ people }: { people: PersonRow[] }) {
  const list = useRef<HTMLUListElement>(null);
  const [top, setTop] = useState(0);
  const [edited, setEdited] = useState<readonly number[]>([]);
  const [left, setLeft] = useState<number | null>(null);
  const place = () => setTop(list.current?.offsetTop ?? 0);
  useLayoutEffect(place, []);
  const rows = useWindowVirtualizer({
    count: people.length,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    scrollMargin: top,
    getItemKey: (index) => people[index]!.id,
    rangeExtractor: (range) => {
      const kept = edited.map((id) => people.findIndex((person) => person.id === id)).filter((index) => index >= 0);
      return [...new Set([...defaultRangeExtractor(range), ...kept])].sort((a, b) => a - b);
    },
  });
  const close = (id: number) => {
    setEdited(edited.filter((one) => one !== id));
    setLeft(id);
  };
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
          {edited.includes(people[index]!.id) ? (
            <EditPerson person={people[index]!} close={() => close(people[index]!.id)} />
          ) : (
            <Row
              person={people[index]!}
              wasEdited={people[index]!.id === left}
              edit={() => setEdited([...edited, people[index]!.id])}
            />
          )}
        </li>
      ))}
    </ul>
  );
}

interface RowProps {
  person: PersonRow;
  wasEdited: boolean;
  edit(): void;
}

function Row({ person, wasEdited, edit }: RowProps) {
  const now = useNow();
  const { id, name, address, company, messages, tags } = person;
  return (
    <>
      <span className={styles.lines}>
        <Link to={`/people/${id}`} className={`${styles.name} plain-link`}>
          {personText(person)}
        </Link>
        {tags.length > 0 && <span className={styles.tags}>{tags.join(' · ')}</span>}
      </span>
      <span className={`${styles.lines} soft`}>
        <span>{company || (name && address)}</span>
        {company && name && <span>{address}</span>}
      </span>
      <span className={`${styles.lines} soft`}>
        <span>{personActivityText(person, now)}</span>
        <span className={person.nextReminderAt !== null && person.nextReminderAt <= now ? 'tone-needs-you' : ''}>
          {nextReminderText(person, now)}
        </span>
      </span>
      <span className={`${styles.lines} soft`}>
        <span>{contactText(person, now)}</span>
        <span className="figures">
          <ToMessages view={{ person: id }} count={messages}>
            {counted(messages, 'message')}
          </ToMessages>
        </span>
      </span>
      <Button
        type="text"
        size="small"
        // Where the keyboard was before.
        autoFocus={wasEdited}
        onClick={edit}
        aria-label={`Edit ${personText(person)}`}
      >
        Edit
      </Button>
    </>
  );
}
