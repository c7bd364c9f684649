import { Button, Select, Skeleton } from 'antd';
import { useState } from 'react';
import { sittingsByDay, sittingsOf, type SittingsDay } from '@kiraku/core/activity';
import { personText, sittingsDayText } from '@kiraku/core/sentences';
import type { EventKind, HistoryScope, MessageDetail } from '@kiraku/core/contract';
import { dateWords, clockWords } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { MY_ZONE } from '../shared/time/zone.js';
import type { Span } from './Chart.js';
import { useHistoryInfiniteQuery } from '../shared/api/messageApi.js';
import { SittingLine, type SittingLineProps } from './SittingLine.js';
import styles from './sittings.module.css';

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
/** The newest sittings are shown with their events. */
const SITTINGS_OPEN = 3;

interface HistoryProps {
  detail: MessageDetail;
  scope: HistoryScope;
  span: Span | null;
  notCounted: boolean;
}

/** The activity, newest first; what was not counted with its reason. */
export function History({ detail, scope, span, notCounted }: HistoryProps) {
  const { copies, files, links, summary, eventsTotal } = detail;
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
  const sittings = sittingsOf(events);
  const newest = sittings.slice(0, SITTINGS_OPEN);
  const earlier = sittingsByDay(sittings.slice(SITTINGS_OPEN), MY_ZONE);
  const line = {
    withSubject: scope === 'conversation',
    pagesOf: (id: number | null) => files.find((file) => file.id === id)?.version.pages ?? null,
  };
  return (
    <section aria-label="Activity">
      <div className={styles.head}>
        <h2>Activity</h2>
        {(eventsTotal > 0 || scope === 'conversation') && (
          <div className={`${styles.filter} no-print`}>
            <Filter label="What is shown" value={kind} options={KINDS} onChange={setKind} />
            {copies.length > 1 && scope === 'message' && (
              <Filter
                label="Of whom"
                value={copy}
                onChange={setCopy}
                options={[
                  { value: ALL, label: 'of everybody' },
                  ...copies.map(({ id, recipient }) => ({ value: id, label: `of ${personText(recipient)}` })),
                ]}
              />
            )}
            {followed.length > 0 && scope === 'message' && (
              <Filter
                label="On which link"
                value={link}
                onChange={setLink}
                options={[
                  { value: ALL, label: 'on any link' },
                  ...followed.map(({ id, text, url }) => ({ value: id, label: `on “${text || url}”` })),
                ]}
              />
            )}
          </div>
        )}
      </div>
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
      <ol className={styles.sittings}>
        {newest.map((sitting) => (
          <SittingLine key={sitting.id} sitting={sitting} isOpenByDefault {...line} />
        ))}
        {earlier.map((day) => (
          <SittingsOfDay key={day.day} day={day} {...line} />
        ))}
      </ol>
      {events.some((event) => event.place !== null) && (
        <p className={`soft ${styles.source}`}>
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

interface FilterProps<Value> {
  label: string;
  value: Value;
  options: { value: Value; label: string }[];
  onChange(value: NoInfer<Value>): void;
}

/** One word of what the activity is narrowed to. */
function Filter<Value extends string | number>({ label, ...field }: FilterProps<Value>) {
  return (
    <Select<Value> size="small" variant="borderless" aria-label={label} popupMatchSelectWidth={false} {...field} />
  );
}

interface SittingsOfDayProps extends Omit<SittingLineProps, 'sitting' | 'isOpenByDefault'> {
  day: SittingsDay;
}

/** A day longer ago: its sittings in one line, until they are wanted. */
function SittingsOfDay({ day: { sittings }, ...line }: SittingsOfDayProps) {
  const [isOpen, setOpen] = useState(false);
  const now = useNow();
  const [newest] = sittings;
  if (isOpen || sittings.length === 1)
    return sittings.map((sitting) => (
      <SittingLine key={sitting.id} sitting={sitting} isOpenByDefault={false} {...line} />
    ));
  return (
    <li className={styles.sitting}>
      <span className="soft">{dateWords(newest!.to, now)}</span>
      <span className={`${styles.what} soft`}>{sittingsDayText(sittings)}</span>
      <Button type="link" size="small" className={`${styles.open} no-print`} onClick={() => setOpen(true)}>
        Show
      </Button>
    </li>
  );
}
