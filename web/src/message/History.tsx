import { Button, Select, Skeleton } from 'antd';
import { useState } from 'react';
import { deviceText, eventText, notCountedText, personText, subjectText } from '@kiraku/core/sentences';
import type { EventKind, EventView, HistoryScope, MessageDetail } from '@kiraku/core/contract';
import { dateWords, clockWords } from '@kiraku/core/time';
import { isNow } from '@kiraku/core/tracking';
import { useNow } from '../shared/hooks/useNow.js';
import { Verdict } from '../judging/Verdict.js';
import { When } from '../shared/ui/When.js';
import type { Span } from './Chart.js';
import { useHistoryInfiniteQuery } from '../shared/api/messageApi.js';
import chartStyles from './chart.module.css';
import messageStyles from './message.module.css';

const KINDS: { value: EventKind | ''; label: string }[] = [
  { value: '', label: 'everything' },
  { value: 'opened', label: 'opens' },
  { value: 'clicked', label: 'clicks' },
  { value: 'file_viewed', label: 'file views' },
  { value: 'replied', label: 'replies' },
  { value: 'bounced', label: 'bounces' },
];
/** Stands for no choice in a field that knows numbers only. */
const ALL = 0;

interface HistoryProps {
  detail: MessageDetail;
  scope: HistoryScope;
  span: Span | null;
  notCounted: boolean;
}

/** The activity, newest first; what was not counted with its reason. */
export function History({ detail, scope, span, notCounted }: HistoryProps) {
  const { copies, links, summary, eventsTotal } = detail;
  const [kind, setKind] = useState<EventKind | ''>('');
  const [copy, setCopy] = useState(ALL);
  const [link, setLink] = useState(ALL);
  const { data, hasNextPage, isFetchingNextPage, fetchNextPage } = useHistoryInfiniteQuery({
    id: summary.id,
    scope,
    notCounted,
    kind: kind || null,
    copy: copy || null,
    link: link || null,
    from: span && Math.floor(span[0]),
    to: span && Math.ceil(span[1]),
  });
  const events = data?.pages.flatMap((page) => page.events) ?? [];
  const followed = links.filter(({ clicks }) => clicks > 0);
  const several = copies.length > 1 || scope === 'conversation';
  return (
    <section aria-label="Activity">
      <h2>Activity</h2>
      {(eventsTotal > 0 || scope === 'conversation') && (
        <div className={`${chartStyles.historyFilter} no-print`}>
          <Select
            size="small"
            aria-label="What is shown"
            value={kind}
            options={KINDS}
            onChange={setKind}
            popupMatchSelectWidth={false}
          />
          {copies.length > 1 && scope === 'message' && (
            <Select
              size="small"
              aria-label="Of whom"
              value={copy}
              onChange={setCopy}
              popupMatchSelectWidth={false}
              options={[
                { value: ALL, label: 'of everybody' },
                ...copies.map(({ id, recipient }) => ({ value: id, label: `of ${personText(recipient)}` })),
              ]}
            />
          )}
          {followed.length > 0 && scope === 'message' && (
            <Select
              size="small"
              aria-label="On which link"
              value={link}
              onChange={setLink}
              popupMatchSelectWidth={false}
              options={[
                { value: ALL, label: 'on any link' },
                ...followed.map(({ id, text, url }) => ({ value: id, label: `on “${text || url}”` })),
              ]}
            />
          )}
        </div>
      )}
      {span && (
        <p className="soft">
          Between {momentWords(span[0])} and {momentWords(span[1])}.
        </p>
      )}
      {!data && <Skeleton active title={false} paragraph={{ rows: 3 }} />}
      {data && events.length === 0 && (
        <p className="soft">
          {eventsTotal === 0 && scope === 'message'
            ? 'Nothing yet. It appears here the moment it happens.'
            : 'Nothing of this kind.'}
        </p>
      )}
      <ol className={messageStyles.history}>
        {events.map((event) => (
          <HistoryLine key={event.eventId} event={event} named={several} withSubject={scope === 'conversation'} />
        ))}
      </ol>
      {events.some((event) => event.place !== null) && (
        <p className={`soft ${messageStyles.historySource}`}>
          Places:{' '}
          <a href="https://db-ip.com" target="_blank" rel="noreferrer">
            IP Geolocation by DB-IP
          </a>
          , approximate.
        </p>
      )}
      {hasNextPage && (
        <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          Show older
        </Button>
      )}
    </section>
  );
}

function momentWords(at: number): string {
  return `${dateWords(at, at)}, ${clockWords(at)}`;
}

function HistoryLine({ event, named, withSubject }: { event: EventView; named: boolean; withSubject: boolean }) {
  const now = useNow();
  const isRecent = event.counted && isNow(event.at, now);
  return (
    <li className={event.counted ? '' : messageStyles.historyNotCounted}>
      <span className="soft">
        <When at={event.at} />
      </span>
      <span className={messageStyles.historyWhat}>
        <b className={isRecent ? 'tone-now' : ''}>{eventText(event)}</b> {named && personText(event.recipient)}{' '}
        {withSubject && subjectText(event)}{' '}
        <span className="soft">{[deviceText(event), event.place].filter(Boolean).join(', ')}</span>
        {event.reason && (
          <span className={`${messageStyles.historyReason} soft`}>{notCountedText(event.reason, event.times)}</span>
        )}
      </span>
      {event.ip !== null && <Verdict event={event} />}
    </li>
  );
}
