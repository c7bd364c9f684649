import { Button, Skeleton } from 'antd';
import { useEffect } from 'react';
import { clicksSentence, copyText, firstOpenSentence, personText, readersText } from '@kiraku/core/sentences';
import type { MessageDetail } from '@kiraku/core/contract';
import { replyCopyId } from '@kiraku/core/message';
import { untilTomorrow } from '@kiraku/core/time';
import { useAppSelector } from '../shared/store/store.js';
import { useNow } from '../shared/hooks/useNow.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { useMessageQuery } from '../shared/api/messageApi.js';
import { usePersonActions } from '../today/usePersonActions.js';
import { useReply } from '../shared/hooks/useReply.js';
import styles from './sent.module.css';

const MAX_COPIES_IN_CARD = 4;
const MAX_LINKS_IN_CARD = 4;

/** What is done with the row that has the keyboard, by key. */
export const GLANCE_KEYS = { r: 'reply', l: 'later', d: 'done' } as const;
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
  const areKeysOn = useAppSelector(({ keys }) => keys);
  const [reply, isLoading] = useReply();
  const { summary, copies, links } = detail;
  const [first] = copies;
  const actions = usePersonActions(first?.personId ?? 0, first ? personText(first.recipient) : '');

  const write = () => reply(summary.id, replyCopyId(copies));
  const until = untilTomorrow(now, MY_ZONE);
  const later = () => actions.snooze(until);
  const resolve = () => actions.resolve();

  useEffect(() => {
    if (action === null) return;
    done();
    const actionOf = { reply: write, later, done: resolve };
    void actionOf[action]();
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
          <>
            <Button size="small" onClick={() => void later()} tabIndex={-1}>
              Later: {until.label}
            </Button>
            <Button size="small" onClick={() => void resolve()} tabIndex={-1}>
              Done
            </Button>
          </>
        )}
        {areKeysOn && <span className="soft">On the row: Enter opens it; R, L, D and S do the rest.</span>}
      </div>
    </>
  );
}
