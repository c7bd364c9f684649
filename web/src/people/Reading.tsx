import { Button, Skeleton } from 'antd';
import { Link } from 'react-router';
import {
  bestSendTimeText,
  confidenceSentence,
  devicesSentence,
  zoneSentence,
  messageStatus,
  replyRateSentence,
} from '@kiraku/core/sentences';
import type { MessageSummary, PersonReading } from '@kiraku/core/contract';
import { readingTimes } from '@kiraku/core/people';

import { useNow } from '../shared/hooks/useNow.js';
import type { PersonSheet } from '../shared/api/privacyApi.js';
import { useBestSendTimeQuery } from '../shared/api/followupsApi.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Trail, TrailAxis } from '../shared/ui/Trail.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { When } from '../shared/ui/When.js';
import { HeatMap } from '../shared/ui/HeatMap.js';
import { toneClass } from '../shared/ui/tone.js';
import { useMergeMutation, useUnmergeMutation, useReadingQuery } from '../shared/api/peopleApi.js';
import settingsStyles from '../shared/ui/settings.module.css';
import styles from './people.module.css';

/** Everything that was ever sent to somebody and what became of it, and when they read. */
export function Reading({ person }: { person: PersonSheet }) {
  const { data, error, refetch } = useReadingQuery(person.id);
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  return (
    <>
      <div className={styles.personTrail}>
        <Trail trailEvents={data.trailEvents} sentAt={data.firstSentAt} markHeight={26} />
        <TrailAxis ticks />
      </div>
      <div className={settingsStyles.settings}>
        <section aria-labelledby="person-messages">
          <h2 id="person-messages">Messages</h2>
          <MessageLines person={person} data={data} />
        </section>
        <section aria-labelledby="person-reading">
          <h2 id="person-reading">When they read</h2>
          <Habits person={person} data={data} />
          {data.merged.length > 0 && <Addresses person={person} merged={data.merged} />}
        </section>
      </div>
    </>
  );
}

function MessageLines({ person, data: { messages, messagesTotal } }: { person: PersonSheet; data: PersonReading }) {
  const now = useNow();
  if (messagesTotal === 0) return <p className="soft">Nothing yet.</p>;
  return (
    <>
      <p className="soft">{replyRateSentence(messages, now)}</p>
      <ul className={styles.personMessages}>
        {messages.map((message) => (
          <MessageLine key={message.id} message={message} />
        ))}
      </ul>
      <Link to={`/sent?person=${person.id}`}>
        {messages.length < messagesTotal ? `Show all ${messagesTotal} in Sent` : 'Show in Sent'}
      </Link>
    </>
  );
}

function MessageLine({ message }: { message: MessageSummary }) {
  const { tone, text } = messageStatus(message, useNow());
  return (
    <li>
      <span>
        <Link to={`/sent/${message.id}`} className={`${styles.name} plain-link`}>
          {message.subject || 'No subject'}
        </Link>
        <span className={toneClass(tone)}>{text}</span>
      </span>
      <span className="soft">
        <When at={message.sentAt ?? message.queuedAt} />
      </span>
    </li>
  );
}

function Habits({ person, data: { readTimes, devices } }: { person: PersonSheet; data: PersonReading }) {
  const zone = person.zone || MY_ZONE;
  const { data } = useBestSendTimeQuery(person.id);
  const best = data?.best;
  const times = readingTimes(readTimes, zone);
  return (
    <>
      <HeatMap times={times} />
      <p>
        {best && (
          <>
            Best time to send: <b>{bestSendTimeText(best)}</b>. <span className="soft">{best.basis}</span>{' '}
          </>
        )}
        <span className="soft">
          {!best && confidenceSentence(times)} {zoneSentence(zone, person.zone !== '')}
        </span>
      </p>
      <p className="soft">{devicesSentence(devices)}</p>
    </>
  );
}

function Addresses({ person, merged }: { person: PersonSheet; merged: PersonReading['merged'] }) {
  const [unmerge] = useUnmergeMutation();
  const [merge] = useMergeMutation();
  const offerUndo = useUndo();
  return (
    <>
      <h2 className={settingsStyles.next}>Other addresses</h2>
      <ul className={settingsStyles.list}>
        {merged.map(({ id, address }) => (
          <li key={id}>
            {address}
            <Button
              type="link"
              size="small"
              onClick={async () => {
                await unmerge({ id, into: person.id }).unwrap();
                offerUndo({
                  key: `parted ${id}`,
                  title: `${address} is separate again`,
                  undo: () => void merge({ id, into: person.id }),
                });
              }}
            >
              Separate
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
