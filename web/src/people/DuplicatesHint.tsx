import { Button } from 'antd';
import { useState } from 'react';
import type { Duplicates } from '@kiraku/core/contract';
import { duplicatesSentence } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { useUndo } from '../shared/hooks/useUndo.js';
import { useDuplicatesQuery, useMergeMutation, useUnmergeMutation } from '../shared/api/peopleApi.js';
import styles from './people.module.css';

/** Says that some people may be one, and makes them one. */
export function DuplicatesHint() {
  const { data = [] } = useDuplicatesQuery(null);
  const [open, setOpen] = useState(false);
  if (data.length === 0) return null;
  return (
    <div className={styles.duplicates}>
      <p>
        {duplicatesSentence(data.length)}{' '}
        <Button type="link" size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Later' : 'Show them'}
        </Button>
      </p>
      {open && (
        <ul className={styles.list}>
          {data.map((same) => (
            <Same key={same.people[0]!.id} same={same} />
          ))}
        </ul>
      )}
    </div>
  );
}

function Same({ same: { name, people } }: { same: Duplicates }) {
  const [merge, { isLoading }] = useMergeMutation();
  const [unmerge] = useUnmergeMutation();
  const offerUndo = useUndo();
  const [main, ...others] = people;
  const makeOne = async () => {
    for (const { id } of others) await merge({ id, into: main!.id }).unwrap();
    offerUndo({
      key: `merged ${main!.id}`,
      title: `${name} merged`,
      description: `Messages go to ${main!.address}.`,
      undo: async () => {
        for (const { id } of others) await unmerge({ id, into: main!.id });
      },
    });
  };
  return (
    <li className={styles.duplicatesRow}>
      <span>
        <b>{name}</b>{' '}
        {people.map(({ id, address, messages }) => (
          <span key={id} className="soft">
            {address} ({counted(messages, 'message')}){' '}
          </span>
        ))}
      </span>
      <Button size="small" loading={isLoading} onClick={() => void makeOne()}>
        Merge
      </Button>
    </li>
  );
}
