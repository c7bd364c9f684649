import { Link } from 'react-router';
import { messageStatus, personText } from '@kiraku/core/sentences';
import type { MessageSummary } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import { useIncomingQuery } from '../shared/api/followupsApi.js';
import { When } from '../shared/ui/When.js';
import { toneClass } from '../shared/ui/tone.js';
import styles from './message.module.css';

/** The messages of a conversation, the oldest first. */
export function Conversation({ messages, current }: { messages: readonly MessageSummary[]; current: number }) {
  const now = useNow();
  const { data: incoming = [] } = useIncomingQuery(current);
  return (
    <section aria-label="Conversation">
      <h2>Messages in this conversation</h2>
      <ul className={styles.lines}>
        {messages.map((message) => {
          const { tone, text } = messageStatus(message, now);
          const subject = message.subject || 'No subject';
          const replies = incoming.filter(({ messageId }) => messageId === message.id);
          return (
            <li key={message.id}>
              <span className={styles.lineName}>
                {message.id === current ? (
                  <span aria-current="page">{subject}, beside</span>
                ) : (
                  <Link to={`/sent/${message.id}`} className="plain-link">
                    {subject}
                  </Link>
                )}
              </span>
              <span className="soft">
                <When at={message.sentAt ?? message.queuedAt} />
              </span>
              <span className={`${styles.lineMore} ${toneClass(tone)}`}>{text}</span>
              {replies.map((reply) => (
                <span key={reply.id} className={styles.lineMore}>
                  <When at={reply.at} /> {personText(reply.from)}: {reply.words}
                </span>
              ))}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
