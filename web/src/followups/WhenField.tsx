import { AutoComplete } from 'antd';
import { bestSendTimeText, readTimeSentence } from '@kiraku/core/sentences';
import { readWhen, WHEN_SUGGESTIONS } from '@kiraku/core/followups';
import { appointmentWords } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { useBestSendTimeQuery } from '../shared/api/followupsApi.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { wordsOf } from './wordsOf.js';
import styles from './followups.module.css';

interface WhenFieldProps {
  value: string;
  onChange(words: string): void;
  /** Whose best time of reading is offered, too; undefined where it does not matter. */
  personId?: number | null;
  /** Whether its time counts from when a message leaves. */
  fromSending?: boolean;
  autoFocus?: boolean;
}

/** A time in words, with what it is understood as. */
export function WhenField({ value, onChange, personId, fromSending = false, autoFocus }: WhenFieldProps) {
  const now = useNow();
  const read = readWhen(value, now, MY_ZONE);
  const { data } = useBestSendTimeQuery(personId ?? null, { skip: personId === undefined });
  const best = data?.best;
  const likely = best && { value: wordsOf(best.at), label: `Best time to send: ${bestSendTimeText(best)}` };
  return (
    <span className={styles.whenField}>
      <AutoComplete
        value={value}
        onChange={onChange}
        options={[...(likely ? [likely] : []), ...WHEN_SUGGESTIONS.map((words) => ({ value: words, label: words }))]}
        popupMatchSelectWidth={false}
        aria-label="When"
        status={'problem' in read ? 'warning' : ''}
        autoFocus={autoFocus}
      />
      <span className={'problem' in read ? 'tone-needs-you' : 'soft'} role="status">
        {'problem' in read ? read.problem : readTimeSentence(appointmentWords(read.at), fromSending)}
        {likely && value === likely.value && ` ${best!.basis}`}
      </span>
    </span>
  );
}

/** Whether a time in words is understood. */
export function isWhen(words: string, now: number): boolean {
  return 'at' in readWhen(words, now, MY_ZONE);
}
