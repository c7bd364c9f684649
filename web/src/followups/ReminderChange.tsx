import { Button } from 'antd';
import { useState } from 'react';
import type { ReminderView } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import { useSaveReminderMutation } from '../shared/api/followupsApi.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { ReminderFields } from './ReminderFields.js';
import { wordsOf } from './wordsOf.js';
import { isWhen } from './WhenField.js';
import styles from './followups.module.css';

/** The fields of a reminder, to change it. */
export default function ReminderChange({
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
