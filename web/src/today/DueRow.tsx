import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { dueSinceText, personText, reminderText, soFarText } from '@kiraku/core/sentences';
import type { ReminderView } from '@kiraku/core/contract';
import { ReminderActions } from '../followups/ReminderActions.js';
import { useNow } from '../shared/hooks/useNow.js';
import styles from './today.module.css';

// It reads times in words, which takes a library of its own.
const ReminderChange = lazy(() => import('../followups/ReminderChange.js'));

/** A reminder whose time has come: whom it is about, what for, and the ways to deal with it. */
export function DueRow({ reminder }: { reminder: ReminderView }) {
  const now = useNow();
  const [isChanging, setChanging] = useState(false);
  const { message, person, condition, note } = reminder;
  const [title] = reminderText({ condition, note, subject: message?.subject ?? null, person });
  const what = note || (message ? soFarText(condition) : 'Get in touch');
  return (
    <li className={styles.row} data-row aria-label={title}>
      <div className={styles.who}>
        {person ? <Link to={`/people/${person.id}`}>{personText(person)}</Link> : <span>Reminder</span>}
        <span className="soft">{message?.company}</span>
      </div>
      <div className={styles.why}>
        <span className={note ? styles.note : ''} title={what}>
          {what}
        </span>
        {message && (
          <span className="soft">
            <Link to={`/sent/${message.id}`}>{message.subject || 'No subject'}</Link>
            {note && ` · ${soFarText(condition)}`}
          </span>
        )}
      </div>
      <span className="soft">{dueSinceText(reminder, now)}</span>
      {isChanging ? (
        <Suspense>
          <ReminderChange reminder={reminder} onDone={() => setChanging(false)} />
        </Suspense>
      ) : (
        <ReminderActions reminder={reminder} title={title} onChange={() => setChanging(true)} />
      )}
    </li>
  );
}
