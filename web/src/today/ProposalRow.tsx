import { Button, Popover } from 'antd';
import { Link } from 'react-router';
import { personText, pointsText } from '@kiraku/core/sentences';
import type { Proposal } from '@kiraku/core/contract';
import { isNow } from '@kiraku/core/tracking';
import { useNow } from '../shared/hooks/useNow.js';
import { useReply } from '../shared/hooks/useReply.js';
import { CallButton } from '../shared/ui/CallButton.js';
import { Trail } from '../shared/ui/Trail.js';
import { LaterMenu } from './LaterMenu.js';
import { usePersonActions } from './usePersonActions.js';
import styles from './today.module.css';

/** Somebody to get in touch with: the strongest reason, and what can be done. */
export function ProposalRow({ proposal: { person, message, copyId, parts, score, lastAt } }: { proposal: Proposal }) {
  const now = useNow();
  const [reply, isReplying] = useReply();
  const why = parts[0]!.words;
  const who = personText(person);
  const actions = usePersonActions(person.id, who);
  const isLive = isNow(lastAt, now);
  return (
    <li className={styles.row} data-row>
      <div className={styles.who}>
        <Link to={`/people/${person.id}`}>{who}</Link>
        <span className="soft">{person.company || (person.name && person.address)}</span>
      </div>
      <div className={styles.why}>
        <span className={isLive ? 'tone-now' : undefined} title={why}>
          {why}
        </span>
        <span className="soft">
          <Link to={`/sent/${message.id}`}>{message.subject || 'No subject'}</Link> ·{' '}
          <Popover
            trigger="click"
            content={
              <ul className={styles.points}>
                {parts.map(({ name, words, points }) => (
                  <li key={name}>
                    <span className="figures">{points}</span> {words}
                  </li>
                ))}
                <li>{pointsText(score)}</li>
              </ul>
            }
          >
            <button type="button" className={styles.whyButton} aria-label={`Why ${who}: ${pointsText(score)}`}>
              why
            </button>
          </Popover>
        </span>
      </div>
      <div className={styles.trail}>
        <Trail trailEvents={message.trailEvents} sentAt={message.sentAt} />
      </div>
      <div className={styles.actions}>
        <CallButton person={person} phone={person.phone} type={isLive ? 'primary' : 'default'} />
        <Button
          loading={isReplying}
          aria-keyshortcuts="R"
          aria-label={`Reply to ${who}`}
          onClick={() => void reply(message.id, copyId)}
        >
          Reply
        </Button>
        <LaterMenu who={who} snooze={(until) => void actions.snooze(until)} />
        <Button onClick={() => void actions.resolve()} aria-keyshortcuts="D" aria-label={`Done: ${who}`}>
          Done
        </Button>
      </div>
    </li>
  );
}
