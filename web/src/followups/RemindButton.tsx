import { Alert, Button, Popover, type ButtonProps } from 'antd';
import { useState } from 'react';
import type { DraftReminder, NewReminderRequest } from '@kiraku/core/contract';
import { remindersSetText } from '@kiraku/core/sentences';
import { appointmentWords } from '@kiraku/core/time';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useNow } from '../shared/hooks/useNow.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { useAddReminderMutation, useRemoveReminderMutation } from '../shared/api/followupsApi.js';
import { FIRST_REMINDER, ReminderFields } from './ReminderFields.js';
import { isWhen } from './WhenField.js';
import styles from './followups.module.css';

interface RemindButtonProps extends Pick<ButtonProps, 'disabled' | 'type' | 'size' | 'aria-keyshortcuts'> {
  about: Pick<NewReminderRequest, 'messageIds' | 'personId'>;
  label?: string;
  onDone?(): void;
}

/** Sets a reminder on one message or several, on a person, or on nothing. */
export default function RemindButton({ about, label = 'Remind me', onDone, ...button }: RemindButtonProps) {
  const [open, setOpen] = useState(false);
  const hasMessage = about.messageIds.length > 0;
  const [value, setValue] = useState<DraftReminder>({
    ...FIRST_REMINDER,
    condition: hasMessage ? 'not-replied' : 'always',
  });
  const [add, { isLoading, error }] = useAddReminderMutation();
  const [remove] = useRemoveReminderMutation();
  const offerUndo = useUndo();
  const now = useNow();
  const problem = error && problemOf(error as QueryError);

  async function save(): Promise<void> {
    const made = await add({ ...value, ...about }).unwrap();
    setOpen(false);
    onDone?.();
    offerUndo({
      key: `remind ${made.map(({ id }) => id).join()}`,
      title: remindersSetText(made.length, appointmentWords(made[0]!.dueAt)),
      undo: () => made.forEach(({ id }) => void remove(id)),
    });
  }

  const content = (
    <form
      className={styles.remind}
      onSubmit={(event) => {
        event.preventDefault();
        void save().catch(() => undefined);
      }}
    >
      <ReminderFields value={value} onChange={setValue} hasMessage={hasMessage} personId={about.personId} autoFocus />
      {problem && <Alert type="warning" showIcon title={problem.title} description={problem.detail} />}
      <Button type="primary" htmlType="submit" loading={isLoading} disabled={!isWhen(value.when, now)}>
        Set reminder
      </Button>
    </form>
  );
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={content} destroyOnHidden>
      <Button {...button}>{label}</Button>
    </Popover>
  );
}
