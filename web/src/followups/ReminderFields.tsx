import { Input, Select } from 'antd';
import { CONDITIONS, type DraftReminder } from '@kiraku/core/contract';
import { conditionWords } from '@kiraku/core/followups';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { SwitchLine } from '../ui/SwitchLine.js';
import { WhenField } from './WhenField.js';
import { MY_ZONE } from '../ui/zone.js';
import './followups.css';

export const FIRST_REMINDER: DraftReminder = {
  ...{ when: 'in 2 days', zone: MY_ZONE, condition: 'unanswered', note: '', mails: false },
};

const CONDITION_CHOICES = CONDITIONS.map((value) => ({ value, label: conditionWords(value) }));

interface ReminderFieldsProps {
  value: DraftReminder;
  onChange(value: DraftReminder): void;
  personId?: number | null;
  fromSending?: boolean;
  /** Whether there is a letter to wait for. */
  hasLetter?: boolean;
  autoFocus?: boolean;
}

/** When to be reminded, of what, and how. */
export function ReminderFields({
  value,
  onChange,
  personId,
  fromSending,
  hasLetter = true,
  autoFocus,
}: ReminderFieldsProps) {
  const change = (part: Partial<DraftReminder>) => onChange({ ...value, ...part, zone: MY_ZONE });
  return (
    <div className="reminder-fields">
      <WhenField value={value.when} onChange={(when) => change({ when })} {...{ personId, fromSending, autoFocus }} />
      {hasLetter && (
        <Select
          value={value.condition}
          options={CONDITION_CHOICES}
          onChange={(condition) => change({ condition })}
          aria-label="On what condition"
        />
      )}
      <Input.TextArea
        value={value.note}
        autoSize={{ minRows: 1, maxRows: 5 }}
        maxLength={MESSAGE_LIMITS.noteLength}
        placeholder="What to remember, for yourself"
        aria-label="Note for yourself"
        onChange={(event) => change({ note: event.target.value })}
      />
      <SwitchLine words="Write me an e-mail, too" checked={value.mails} onChange={(mails) => change({ mails })} />
    </div>
  );
}
