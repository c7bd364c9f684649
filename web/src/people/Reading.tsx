import { Button, Skeleton } from 'antd';
import { Link } from 'react-router';
import type { MessageSummary, PersonReading } from '@kiraku/core/contract';
import { bestHourSentence } from '@kiraku/core/followups';
import { answeringWords, readingTimes, surenessWords } from '@kiraku/core/people';
import { counted } from '@kiraku/core/time';
import { deviceWords, standing } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import type { PersonSheet } from '../privacy/privacyApi.js';
import { useBestHourQuery } from '../followups/followupsApi.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Trail, TrailAxis } from '../ui/Trail.js';
import { useUndo } from '../ui/useUndo.js';
import { MY_ZONE } from '../ui/zone.js';
import { When } from '../ui/When.js';
import { HeatMap } from '../ui/HeatMap.js';
import { useMergeMutation, usePartMutation, useReadingQuery } from './peopleApi.js';

/** Everything that was ever sent to somebody and what became of it, and when they read. */
export function Reading({ person }: { person: PersonSheet }) {
  const { data, error, refetch } = useReadingQuery(person.id);
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  return (
    <>
      <div className="person-trail">
        <Trail marks={data.marks} sentAt={data.firstSentAt} markHeight={26} />
        <TrailAxis ticks />
      </div>
      <div className="settings">
        <section aria-labelledby="person-letters">
          <h2 id="person-letters">What they were sent</h2>
          <Letters person={person} data={data} />
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

function Letters({ person, data: { messages, messagesTotal } }: { person: PersonSheet; data: PersonReading }) {
  const now = useNow();
  if (messagesTotal === 0) return <p className="soft">Nothing yet.</p>;
  return (
    <>
      <p className="soft">{answeringWords(messages, now)}</p>
      <ul className="person-letters">
        {messages.map((message) => (
          <Letter key={message.id} message={message} />
        ))}
      </ul>
      <Link to={`/sent?person=${person.id}`}>
        {messages.length < messagesTotal ? `All ${messagesTotal} in the list` : 'In the list'}
      </Link>
    </>
  );
}

function Letter({ message }: { message: MessageSummary }) {
  const { tone, words } = standing(message, useNow());
  return (
    <li>
      <span>
        <Link to={`/sent/${message.id}`} className="people-name plain-link">
          {message.subject || 'No subject'}
        </Link>
        <span className={tone === 'plain' ? 'soft' : `tone-${tone}`}>{words}</span>
      </span>
      <span className="soft">
        <When at={message.sentAt ?? message.queuedAt} />
      </span>
    </li>
  );
}

function Habits({ person, data: { looks, devices } }: { person: PersonSheet; data: PersonReading }) {
  const zone = person.zone || MY_ZONE;
  const { data } = useBestHourQuery(person.id);
  const best = data?.best;
  const times = readingTimes(looks, zone);
  const usual = devices.map((device) => `${deviceWords(device)} (${counted(device.looks, 'look')})`);
  return (
    <>
      <HeatMap times={times} />
      <p>
        {best && (
          <>
            Best written to so that it lies there on <b>{bestHourSentence(best)}</b>.{' '}
            <span className="soft">{best.basis}</span>{' '}
          </>
        )}
        <span className="soft">
          {surenessWords(times)} By the clocks of {zone}
          {person.zone === '' && ', which are yours: say below where they live'}.
        </span>
      </p>
      <p className="soft">
        {usual.length === 0 ? 'Nothing is known of what they read with.' : `They read with ${usual.join(', ')}.`}
      </p>
    </>
  );
}

function Addresses({ person, merged }: { person: PersonSheet; merged: PersonReading['merged'] }) {
  const [part] = usePartMutation();
  const [merge] = useMergeMutation();
  const tell = useUndo();
  return (
    <>
      <h2 className="settings-next">Other addresses</h2>
      <ul className="settings-list">
        {merged.map(({ id, address }) => (
          <li key={id}>
            {address}
            <Button
              type="link"
              size="small"
              onClick={async () => {
                await part({ id, into: person.id }).unwrap();
                tell({
                  ...{ key: `parted ${id}`, title: `${address} is a person of its own again` },
                  undo: () => void merge({ id, into: person.id }),
                });
              }}
            >
              It is somebody else
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
