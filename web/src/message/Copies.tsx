import { Button } from 'antd';
import { useState } from 'react';
import { copyText, personText, readersSentences, receiptSentences } from '@kiraku/core/sentences';
import type { CopyView } from '@kiraku/core/contract';
import { byLastActivity } from '@kiraku/core/message';
import { Link } from 'react-router';
import { RetryCopy } from '../delivery/RetryCopy.js';
import { useNow } from '../shared/hooks/useNow.js';
import styles from './message.module.css';

const MAX_COPIES_SHOWN = 6;
const KINDS = { to: '', cc: 'Cc', bcc: 'Bcc' };

/** Who of several recipients did what: each has a copy of their own. */
export function Copies({ messageId, copies }: { messageId: number; copies: CopyView[] }) {
  const now = useNow();
  const [all, setAll] = useState(false);
  const shown = all ? copies : byLastActivity(copies).slice(0, MAX_COPIES_SHOWN);
  return (
    <section aria-label="Recipients">
      <h2>Recipients</h2>
      <ul className={styles.lines}>
        {shown.map((copy) => (
          <li key={copy.id}>
            <span className={styles.lineName}>
              <Link to={`/people/${copy.personId}`} className="plain-link">
                {personText(copy.recipient)}
              </Link>{' '}
              <span className="soft">{KINDS[copy.recipient.kind]}</span>
            </span>
            <span className={copy.state === 'failed' ? 'tone-needs-you' : 'soft'}>{copyText(copy, now)}</span>
            {[...receiptSentences(copy), ...readersSentences(copy)].map((sentence) => (
              <span key={sentence} className={`${styles.lineMore} soft`}>
                {sentence}
              </span>
            ))}
            {copy.state === 'sent' && copy.lastError !== null && (
              <span className={`${styles.lineMore} tone-needs-you`}>{copy.lastError}</span>
            )}
            {copy.state === 'failed' && (
              <RetryCopy copyId={copy.id} messageId={messageId} address={copy.recipient.address} state={copy.state} />
            )}
          </li>
        ))}
      </ul>
      {shown.length < copies.length && (
        <Button type="link" onClick={() => setAll(true)}>
          Show all {copies.length}
        </Button>
      )}
    </section>
  );
}
