import { Checkbox } from 'antd';
import { memo } from 'react';
import { Link } from 'react-router';
import { messageStatus, personText } from '@kiraku/core/sentences';
import type { MessageSummary } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import { Trail } from '../shared/ui/Trail.js';
import { When } from '../shared/ui/When.js';
import { toneClass } from '../shared/ui/tone.js';
import { Found } from './Found.js';
import styles from './sent.module.css';

interface SentRowProps {
  message: MessageSummary;
  /** Where searched words stand; nothing where none were searched, or they are in what is shown anyway. */
  found: string | undefined;
  /** Null while none are being chosen. */
  isChosen: boolean | null;
  choose(id: number, isChosen: boolean): void;
}

/** One message of the list: to whom, what, where it stands, its trail. */
export const SentRow = memo(function SentRow({ message, found, isChosen, choose }: SentRowProps) {
  const now = useNow();
  const { tone, text } = messageStatus(message, now);
  const [first] = message.recipients;
  const others = message.recipients.length - 1;
  // Of several the one who did something last: that is who matters.
  const who = message.lastActor ?? first;
  const subject = message.subject || 'No subject';
  return (
    <div className={`${styles.row} ${isChosen === null ? '' : styles.choosing}`}>
      {isChosen !== null && (
        <Checkbox
          className={styles.check}
          checked={isChosen}
          aria-label={`Select “${subject}”`}
          onChange={(event) => choose(message.id, event.target.checked)}
        />
      )}
      <div className={styles.cell}>
        <span className={styles.who}>
          {who && personText(who)}
          {others > 0 && <span className="soft"> and {others} more</span>}
        </span>
        <span className={`${styles.company} soft`}>{message.company || (first?.name && first.address)}</span>
      </div>
      <div className={styles.cell}>
        <Link className={styles.link} to={`/sent/${message.id}`}>
          {subject}
        </Link>
        {!found ? (
          <span className={`${styles.state} ${toneClass(tone)}`} title={text}>
            {text}
            {message.muted && ' Muted.'}
          </span>
        ) : (
          <Found text={found} />
        )}
      </div>
      <div className={styles.trail}>
        <Trail trailEvents={message.trailEvents} sentAt={message.sentAt} />
      </div>
      <span className={`${styles.when} soft`}>
        <When at={message.sentAt ?? message.queuedAt} />
      </span>
    </div>
  );
});
