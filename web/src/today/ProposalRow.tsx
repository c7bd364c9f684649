import { Button, Dropdown, Tooltip } from 'antd';
import { Link, useNavigate } from 'react-router';
import { personText } from '@kiraku/core/sentences';
import type { Proposal } from '@kiraku/core/contract';
import { laterTimes } from '@kiraku/core/time';
import { isNow } from '@kiraku/core/tracking';
import { useNow } from '../shared/hooks/useNow.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { telOf } from '../shared/ui/telOf.js';
import { Trail } from '../shared/ui/Trail.js';
import { useReplyMutation } from '../shared/api/draftsApi.js';
import { usePersonActions } from './usePersonActions.js';
import styles from './today.module.css';

/** Somebody to get in touch with: why, and the ways to do it. */
export function ProposalRow({ proposal: { person, message, parts, score, lastAt } }: { proposal: Proposal }) {
  const now = useNow();
  const later = laterTimes(now, MY_ZONE);
  const navigate = useNavigate();
  const [reply, { isLoading }] = useReplyMutation();
  const [first, second] = parts;
  const who = personText(person);
  const ways = usePersonActions(person.id, who);
  return (
    <li className={styles.proposal}>
      <div className={styles.proposalWho}>
        <Link to={`/people/${person.id}`}>{who}</Link>
        <span className="soft">{person.company || (person.name && person.address)}</span>
      </div>
      <div className={styles.proposalWhy}>
        <span className={isNow(lastAt, now) ? 'tone-now' : undefined}>{first!.words}</span>
        <span className="soft">
          <Link to={`/sent/${message.id}`}>{message.subject || 'No subject'}</Link>
          {second && `; ${second.words.charAt(0).toLowerCase()}${second.words.slice(1)}`}
        </span>
      </div>
      <Trail trailEvents={message.trailEvents} sentAt={message.sentAt} />
      <div className={styles.proposalWays}>
        {person.phone && (
          <Button
            size="small"
            type={isNow(lastAt, now) ? 'primary' : 'default'}
            href={telOf(person.phone)}
            aria-label={`Call ${who}`}
          >
            Call
          </Button>
        )}
        <Button
          size="small"
          loading={isLoading}
          aria-label={`Reply to ${who}`}
          onClick={async () => {
            const draft = await reply(message.id).unwrap();
            void navigate(`/write/${draft.id}`);
          }}
        >
          Reply
        </Button>
        <Dropdown
          trigger={['click']}
          menu={{
            items: later.map(({ label }) => ({ key: label, label: `Later: ${label}` })),
            onClick: ({ key }) => ways.snooze(later.find(({ label }) => label === key)!),
          }}
        >
          <Button size="small" aria-label={`Later: ${who}`} aria-haspopup="menu">
            Later
          </Button>
        </Dropdown>
        <Button size="small" onClick={ways.resolve} aria-label={`Done: ${who}`}>
          Done
        </Button>
        <Tooltip
          title={
            <>
              <div>{score} points:</div>
              {parts.map(({ name, words, points }) => (
                <div key={name}>
                  {points}: {words}
                </div>
              ))}
            </>
          }
        >
          <button type="button" className={styles.proposalScore} aria-label={`Why? ${who}: ${score} points`}>
            Why?
          </button>
        </Tooltip>
      </div>
    </li>
  );
}
