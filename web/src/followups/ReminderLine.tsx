import { Button, Dropdown } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { conditionText, dueText, endedText, personText, reminderText } from '@kiraku/core/sentences';
import type { ReminderView } from '@kiraku/core/contract';
import { WHEN_SUGGESTIONS } from '@kiraku/core/followups';

import { useNow } from '../shared/hooks/useNow.js';
import { telOf } from '../shared/ui/telOf.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { useReplyMutation } from '../shared/api/draftsApi.js';
import {
  useSnoozeReminderMutation,
  useRemoveReminderMutation,
  useSaveReminderMutation,
  useSetReminderDoneMutation,
} from '../shared/api/followupsApi.js';
import { ReminderFields } from './ReminderFields.js';
import { isWhen, timeWords, wordsOf } from './WhenField.js';
import { MY_ZONE } from '../shared/time/zone.js';
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
    <li className={styles.reminder} aria-label={title}>
      <span className={styles.reminderWhat}>
        {beside ? (
          <span className={state === styles.due ? 'tone-needs-you' : ''}>
            {state === 'due' ? 'Now' : timeWords(dueAt)}, {conditionText(condition)}
          </span>
        ) : (
          <Title reminder={reminder} place={place} />
        )}
        {note !== '' && (message ?? person) && <span className={styles.reminderNote}>{note}</span>}
        {!beside && isOpen && <span className="soft">{dueText(reminder, timeWords(dueAt), now)}</span>}
        {!isOpen && <span className="soft">{endedText(reminder, now)}</span>}
      </span>
      {isOpen && !isChanging && <Ways reminder={reminder} title={title} onChange={() => setChanging(true)} />}
      {!isOpen && state === 'done' && <Undone id={id} />}
      {isChanging && <Change reminder={reminder} onDone={() => setChanging(false)} />}
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

function Ways({
  reminder: { id, message, person, state },
  title,
  onChange,
}: {
  reminder: ReminderView;
  title: string;
  onChange(): void;
}) {
  const [setDone] = useSetReminderDoneMutation();
  const [snooze] = useSnoozeReminderMutation();
  const [remove] = useRemoveReminderMutation();
  const [reply, { isLoading }] = useReplyMutation();
  const offerUndo = useUndo();
  const navigate = useNavigate();
  return (
    <span className={styles.reminderWays}>
      {state === 'due' && person?.phone && (
        <Button size="small" href={telOf(person.phone)} aria-label={`Call ${personText(person)}`}>
          Call
        </Button>
      )}
      {state === 'due' && message && (
        <Button
          size="small"
          loading={isLoading}
          onClick={async () => {
            const draft = await reply(message.id).unwrap();
            void navigate(`/write/${draft.id}`);
          }}
        >
          Reply
        </Button>
      )}
      <Button
        size="small"
        aria-label={`Done: ${title}`}
        onClick={() => {
          void setDone({ id, done: true });
          offerUndo({
            key: `done ${id}`,
            title: 'Done',
            description: title,
            undo: () => void setDone({ id, done: false }),
          });
        }}
      >
        Done
      </Button>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            ...WHEN_SUGGESTIONS.map((words) => ({ key: words, label: `Later: ${words}` })),
            { key: 'change', label: 'Change …' },
            {
              key: 'calendar',
              label: <a href={`/api/reminders/${id}/reminder.ics`}>Add to calendar (.ics)</a>,
            },
            { key: 'remove', label: 'Delete' },
          ],
          onClick: ({ key }) => {
            if (key === 'change') return onChange();
            if (key === 'calendar') return;
            void (key === 'remove' ? remove(id) : snooze({ id, when: key }));
          },
        }}
      >
        <Button size="small" aria-label={`Later: ${title}`} aria-haspopup="menu">
          Later
        </Button>
      </Dropdown>
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

function Change({
  reminder: { id, dueAt, condition, note, byEmail, message, person },
  onDone,
}: {
  reminder: ReminderView;
  onDone(): void;
}) {
  const [save, { isLoading }] = useSaveReminderMutation();
  const [value, setValue] = useState({
    when: wordsOf(dueAt),
    zone: MY_ZONE,
    condition,
    note,
    byEmail,
  });
  const now = useNow();
  return (
    <form
      className={styles.remind}
      onSubmit={(event) => {
        event.preventDefault();
        void save({ id, ...value })
          .unwrap()
          .then(onDone, () => undefined);
      }}
    >
      <ReminderFields
        value={value}
        onChange={setValue}
        hasMessage={message !== null}
        personId={person?.id ?? null}
        autoFocus
      />
      <span className={styles.reminderWays}>
        <Button type="primary" htmlType="submit" loading={isLoading} disabled={!isWhen(value.when, now)}>
          Save
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </span>
    </form>
  );
}
