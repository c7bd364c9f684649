import { Button, Dropdown } from 'antd';
import { remindersSetText } from '@kiraku/core/sentences';
import type { ReminderView } from '@kiraku/core/contract';
import { WHEN_SUGGESTIONS } from '@kiraku/core/followups';
import { appointmentWords } from '@kiraku/core/time';
import { useReply } from '../shared/hooks/useReply.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { CallButton } from '../shared/ui/CallButton.js';
import {
  useAddReminderMutation,
  useRemoveReminderMutation,
  useRestoreReminderMutation,
  useSetReminderDoneMutation,
  useSnoozeReminderMutation,
} from '../shared/api/followupsApi.js';
import styles from './followups.module.css';

interface ReminderActionsProps {
  reminder: ReminderView;
  /** What the reminder is about. */
  title: string;
  onChange(): void;
  /** Smaller, in a list of many. */
  isSmall?: boolean;
}

/** What can be done about an open reminder. */
export function ReminderActions({ reminder, title, onChange, isSmall = false }: ReminderActionsProps) {
  const { id, message, person, state } = reminder;
  const size = isSmall ? 'small' : 'middle';
  const [reply, isReplying] = useReply();
  const act = useReminderActions(reminder, title);
  return (
    <span className={styles.reminderWays}>
      {state === 'due' && person && <CallButton person={person} phone={person.phone} size={size} />}
      {state === 'due' && message && (
        <Button size={size} aria-keyshortcuts="R" loading={isReplying} onClick={() => void reply(message.id, null)}>
          {message.recipients.length > 1 ? 'Reply all' : 'Reply'}
        </Button>
      )}
      <Dropdown
        trigger={['click']}
        autoFocus
        menu={{
          items: [
            ...WHEN_SUGGESTIONS.map((words) => ({
              key: words,
              label: `Later: ${words}`,
              onClick: () => void act.snooze(words),
            })),
            { key: 'change', label: 'Change …', onClick: onChange },
            {
              key: 'calendar',
              label: <a href={`/api/reminders/${id}/reminder.ics`}>Add to calendar (.ics)</a>,
            },
            { key: 'remove', label: 'Delete', onClick: () => void act.remove() },
          ],
        }}
      >
        <Button size={size} aria-keyshortcuts="L" aria-label={`Later: ${title}`} aria-haspopup="menu">
          Later
        </Button>
      </Dropdown>
      <Button size={size} aria-keyshortcuts="D" aria-label={`Done: ${title}`} onClick={() => void act.done()}>
        Done
      </Button>
    </span>
  );
}

/** Each with an undo. */
function useReminderActions(reminder: ReminderView, title: string) {
  const { id, dueAt, condition, note, byEmail, zone, message, person } = reminder;
  const [setDone] = useSetReminderDoneMutation();
  const [snooze] = useSnoozeReminderMutation();
  const [restore] = useRestoreReminderMutation();
  const [remove] = useRemoveReminderMutation();
  const [add] = useAddReminderMutation();
  const offerUndo = useUndo();
  return {
    done: async () => {
      const { error } = await setDone({ id, done: true });
      const undo = () => void setDone({ id, done: false });
      if (!error) offerUndo({ key: `reminder ${id}`, title: 'Done', description: title, undo });
    },
    snooze: async (when: string) => {
      const { data } = await snooze({ id, when });
      const undo = () => void restore({ id, dueAt });
      if (data) offerUndo({ key: `reminder ${id}`, title: remindersSetText(1, appointmentWords(data.dueAt)), undo });
    },
    remove: async () => {
      const { error } = await remove(id);
      const about = { messageIds: message ? [message.id] : [], personId: person?.id ?? null };
      const undo = async () => {
        // A time that has passed cannot be set: it is put back afterwards.
        const { data } = await add({ when: 'tomorrow', zone, condition, note, byEmail, ...about });
        if (data) void restore({ id: data[0]!.id, dueAt });
      };
      if (!error)
        offerUndo({ key: `reminder ${id}`, title: 'Reminder deleted', description: title, undo: () => void undo() });
    },
  };
}
