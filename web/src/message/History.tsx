import { Button, Switch } from 'antd';
import { useState } from 'react';
import type { EventView, MessageDetail } from '@kiraku/core/contract';
import { isHappening, deviceWords, happeningWords, personWords, reasonWords } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import { Verdict } from '../judging/Verdict.js';
import { When } from '../ui/When.js';
import { useOlderEventsMutation } from './messageApi.js';

/** Every event of the message, newest first; what was set aside with its reason. */
export function History({ detail }: { detail: MessageDetail }) {
  const { events, eventsTotal, copies, summary } = detail;
  const [withAside, setWithAside] = useState(true);
  const [loadOlder, { isLoading }] = useOlderEventsMutation();
  const shown = withAside ? events : events.filter((event) => event.counted);
  const last = events.at(-1);
  return (
    <section aria-label="History">
      <h2>
        What happened
        {summary.tally.setAside > 0 && (
          <label className="history-aside">
            <Switch size="small" checked={withAside} onChange={setWithAside} /> with what was set aside
          </label>
        )}
      </h2>
      {eventsTotal === 0 && <p className="soft">Nothing yet. It appears here the moment it happens.</p>}
      <ol className="history">
        {shown.map((event) => (
          <HistoryLine key={event.eventId} event={event} named={copies.length > 1} />
        ))}
      </ol>
      {events.some((event) => event.place !== null) && (
        <p className="soft history-source">
          Places:{' '}
          <a href="https://db-ip.com" target="_blank" rel="noreferrer">
            IP Geolocation by DB-IP
          </a>
          , approximate.
        </p>
      )}
      {last && events.length < eventsTotal && (
        <Button loading={isLoading} onClick={() => void loadOlder({ id: summary.id, before: last })}>
          Show older: {eventsTotal - events.length} more
        </Button>
      )}
    </section>
  );
}

function HistoryLine({ event, named }: { event: EventView; named: boolean }) {
  const now = useNow();
  const happening = event.counted && isHappening(event.at, now);
  return (
    <li className={event.counted ? '' : 'history-set-aside'}>
      <span className="history-when soft">
        <When at={event.at} />
      </span>
      <span className="history-what">
        <b className={happening ? 'tone-now' : ''}>{happeningWords(event)}</b> {named && personWords(event.recipient)}{' '}
        <span className="soft">{[deviceWords(event), event.place].filter(Boolean).join(', ')}</span>
        {event.reason && (
          <span className="history-reason soft">
            Set aside: {reasonWords(event.reason)}
            {event.times > 1 && `, ${event.times} requests`}
          </span>
        )}
      </span>
      {event.ip !== null && <Verdict event={event} />}
    </li>
  );
}
