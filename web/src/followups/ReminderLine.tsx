import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { conditionText, dueText, endedText, personText, reminderText } from '@kiraku/core/sentences';
import type { ReminderView } from '@kiraku/core/contract';
import { appointmentWords } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { useSetReminderDoneMutation } from '../shared/api/followupsApi.js';
import { ReminderActions } from './ReminderActions.js';
import ReminderChange from './ReminderChange.js';
import styles from './followups.module.css';

/** A reminder, and the ways to deal with it. */
export function ReminderLine({ reminder, beside = false }: { reminder: ReminderView; beside?: boolean }) {
  const now = useNow();
  const [isChanging, setChanging] = useState(false);
  const { id, state, dueAt, condition, note, message, person } = reminder;
  const title = reminderText({ condition, note, subject: message?.subject ?? null, person })[0];
  const isOpen = state === 'waiting' || state === 'due';
  const place = message ? `/sent/${message.id}` : person ? `/people/${person.id}` : null;
  return (
    <li className={styles.reminder} data-row aria-label={title}>
      <span className={styles.reminderWhat}>
        {beside ? (
          <span className={state === 'due' ? 'tone-needs-you' : ''}>
            {state === 'due' ? 'Now' : appointmentWords(dueAt)}, {conditionText(condition)}
          </span>
        ) : (
          <Title reminder={reminder} place={place} />
        )}
        {note !== '' && (message ?? person) && <span className={styles.reminderNote}>{note}</span>}
        {!beside && isOpen && <span className="soft">{dueText(reminder, appointmentWords(dueAt), now)}</span>}
        {!isOpen && <span className="soft">{endedText(reminder, now)}</span>}
      </span>
      {isOpen && !isChanging && (
        <ReminderActions reminder={reminder} title={title} onChange={() => setChanging(true)} isSmall />
      )}
      {!isOpen && state === 'done' && <Undone id={id} />}
      {isChanging && <ReminderChange reminder={reminder} onDone={() => setChanging(false)} />}
    </li>
  );
}

function Title({ reminder: { message, person, note }, place }: { reminder: ReminderView; place: string | null }) {
  const words = message ? message.subject || 'No subject' : note || 'Get in touch';
  return (
    <span>
      {person && <Link to={`/people/${person.id}`}>{personText(person)}</Link>}
      {person && ': '}
      {place ? <Link to={place}>{words}</Link> : words}
    </span>
  );
}

function Undone({ id }: { id: number }) {
  const [setDone] = useSetReminderDoneMutation();
  return (
    <Button size="small" type="link" onClick={() => void setDone({ id, done: false })}>
      Mark as not done
    </Button>
  );
}
