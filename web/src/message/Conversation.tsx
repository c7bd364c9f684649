import { Link } from 'react-router';
import { messageStatus, personText } from '@kiraku/core/sentences';
import type { MessageSummary } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import { useIncomingQuery } from '../shared/api/followupsApi.js';
import { When } from '../shared/ui/When.js';

/** The messages of a conversation, the oldest first. */
export function Conversation({ messages, current }: { messages: readonly MessageSummary[]; current: number }) {
  const now = useNow();
  const { data: incoming = [] } = useIncomingQuery(current);
  return (
    <section aria-label="Conversation">
      <h2>Messages in this conversation</h2>
      <ul className="lines">
        {messages.map((message) => {
          const { tone, text } = messageStatus(message, now);
          const subject = message.subject || 'No subject';
          const replies = incoming.filter(({ messageId }) => messageId === message.id);
          return (
            <li key={message.id}>
              <span className="line-name">
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
              <span className={`line-more ${tone === 'plain' ? 'soft' : `tone-${tone}`}`}>{text}</span>
              {replies.map((reply) => (
                <span key={reply.id} className="line-more">
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
