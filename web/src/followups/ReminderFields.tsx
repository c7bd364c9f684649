import { Input, Select } from 'antd';
import { conditionText } from '@kiraku/core/sentences';
import { CONDITIONS, type DraftReminder } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { SwitchLine } from '../shared/ui/SwitchLine.js';
import { WhenField } from './WhenField.js';
import { MY_ZONE } from '../shared/time/zone.js';
import styles from './followups.module.css';

export const FIRST_REMINDER: DraftReminder = {
  when: 'in 2 days',
  zone: MY_ZONE,
  condition: 'not-replied',
  note: '',
  byEmail: false,
};

const CONDITION_CHOICES = CONDITIONS.map((value) => ({ value, label: conditionText(value) }));

interface ReminderFieldsProps {
  value: DraftReminder;
  onChange(value: DraftReminder): void;
  personId?: number | null;
  fromSending?: boolean;
  /** Whether there is a message to wait for. */
  hasMessage?: boolean;
  autoFocus?: boolean;
}

/** When to be reminded, of what, and how. */
export function ReminderFields({
  value,
  onChange,
  personId,
  fromSending,
  hasMessage = true,
  autoFocus,
}: ReminderFieldsProps) {
  const change = (part: Partial<DraftReminder>) => onChange({ ...value, ...part, zone: MY_ZONE });
  return (
    <div className={styles.reminderFields}>
      <WhenField value={value.when} onChange={(when) => change({ when })} {...{ personId, fromSending, autoFocus }} />
      {hasMessage && (
        <Select
          value={value.condition}
          options={CONDITION_CHOICES}
          onChange={(condition) => change({ condition })}
          aria-label="Condition"
        />
      )}
      <Input.TextArea
        value={value.note}
        autoSize={{ minRows: 1, maxRows: 5 }}
        maxLength={MESSAGE_LIMITS.maxNoteChars}
        placeholder="Note for this reminder; it is never sent"
        aria-label="Note for the reminder"
        onChange={(event) => change({ note: event.target.value })}
      />
      <SwitchLine words="Email me too" checked={value.byEmail} onChange={(byEmail) => change({ byEmail })} />
    </div>
  );
}
