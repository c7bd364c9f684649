import { Button, Skeleton } from 'antd';
import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { clicksSentence, copyText, firstOpenSentence, personText, readersText } from '@kiraku/core/sentences';
import type { MessageDetail } from '@kiraku/core/contract';
import { untilTomorrow } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { useMessageQuery } from '../shared/api/messageApi.js';
import { usePersonActions } from '../today/usePersonActions.js';
import { useReplyMutation } from '../shared/api/draftsApi.js';
import styles from './sent.module.css';

const MAX_COPIES_IN_CARD = 4;
const MAX_LINKS_IN_CARD = 4;

/** What is done with the row that has the keyboard, by key. */
export const GLANCE_KEYS = { w: 'write', l: 'later' } as const;
export type GlanceAction = (typeof GLANCE_KEYS)[keyof typeof GLANCE_KEYS];

interface GlanceProps {
  id: number;
  /** Where the row ends, in the list. */
  top: number;
  /** What was asked for by a key; done once. */
  action: GlanceAction | null;
  done(): void;
}

/** The essentials of the row on which one rests, without leaving the list. */
export function Glance({ id, top, action, done }: GlanceProps) {
  const { data } = useMessageQuery(id);
  return (
    <div id="glance" className={styles.glance} style={{ top }}>
      {data ? (
        <Essentials detail={data} action={action} done={done} />
      ) : (
        <Skeleton active title={false} paragraph={{ rows: 2 }} />
      )}
    </div>
  );
}

function Essentials({ detail, action, done }: { detail: MessageDetail } & Pick<GlanceProps, 'action' | 'done'>) {
  const now = useNow();
  const navigate = useNavigate();
  const [reply, { isLoading }] = useReplyMutation();
  const { summary, copies, links } = detail;
  const [first] = copies;
  const actions = usePersonActions(first?.personId ?? 0, first ? personText(first.recipient) : '');

  const write = async () => {
    const draft = await reply(summary.id).unwrap();
    void navigate(`/write/${draft.id}`);
  };
  const until = untilTomorrow(now, MY_ZONE);
  const later = () => void actions.snooze(until);

  useEffect(() => {
    if (action === null) return;
    done();
    if (action === 'write') void write();
    else later();
  });

  return (
    <>
      <ul>
        {copies.slice(0, MAX_COPIES_IN_CARD).map((copy) => (
          <li key={copy.id}>
            <b>{personText(copy.recipient)}</b>: {copyText(copy, now)}
            <span className="soft"> {readersText(copy.readers)}</span>
          </li>
        ))}
        {copies.length > MAX_COPIES_IN_CARD && <li className="soft">and {copies.length - MAX_COPIES_IN_CARD} more</li>}
      </ul>
      <p>
        {firstOpenSentence(summary, now)} {clicksSentence(links, MAX_LINKS_IN_CARD)}{' '}
        {detail.note && <span className="soft">Note: {detail.note}</span>}
      </p>
      <div className={styles.glanceWays}>
        <Button size="small" loading={isLoading} onClick={() => void write()} tabIndex={-1}>
          Reply
        </Button>
        {first && (
          <Button size="small" onClick={later} tabIndex={-1}>
            Later: {until.label}
          </Button>
        )}
        <span className="soft">On the row: Enter opens it, W replies, L is for later.</span>
      </div>
    </>
  );
}
