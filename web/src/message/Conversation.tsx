import { Link } from 'react-router';
import type { MessageSummary } from '@kiraku/core/contract';
import { personWords, standing } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import { useIncomingQuery } from '../followups/followupsApi.js';
import { When } from '../ui/When.js';

/** The letters of a conversation, the oldest first. */
export function Conversation({ letters, current }: { letters: readonly MessageSummary[]; current: number }) {
  const now = useNow();
  const { data: incoming = [] } = useIncomingQuery(current);
  return (
    <section aria-label="Conversation">
      <h2>Letters of this conversation</h2>
      <ul className="lines">
        {letters.map((letter) => {
          const { tone, words } = standing(letter, now);
          const subject = letter.subject || 'No subject';
          const answers = incoming.filter(({ messageId }) => messageId === letter.id);
          return (
            <li key={letter.id}>
              <span className="line-name">
                {letter.id === current ? (
                  <span aria-current="page">{subject}, beside</span>
                ) : (
                  <Link to={`/sent/${letter.id}`} className="plain-link">
                    {subject}
                  </Link>
                )}
              </span>
              <span className="soft">
                <When at={letter.sentAt ?? letter.queuedAt} />
              </span>
              <span className={`line-more ${tone === 'plain' ? 'soft' : `tone-${tone}`}`}>{words}</span>
              {answers.map((answer) => (
                <span key={answer.id} className="line-more">
                  <When at={answer.at} /> {personWords(answer.from)}: {answer.words}
                </span>
              ))}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
