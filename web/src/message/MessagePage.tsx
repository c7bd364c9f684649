import { Skeleton } from 'antd';
import { lazy, Suspense } from 'react';
import { useParams } from 'react-router';
import type { MessageDetail } from '@kiraku/core/contract';
import { counted, DAY, durationWords, whenWords } from '@kiraku/core/time';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { standing } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Trail, TrailAxis } from '../ui/Trail.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { Deeds } from './Deeds.js';
import { Copies } from './Copies.js';
import { History } from './History.js';
import { LetterSheet } from './LetterSheet.js';
import { useMessageQuery } from './messageApi.js';
import './message.css';

// With what chooses a time: more than all the rest of the page, and seldom wanted.
const Scheduled = lazy(() => import('./Scheduled.js'));

/** The letter with what is known about it in its margin. */
export default function MessagePage() {
  const id = Number(useParams()['id']);
  const { data, error, isLoading, refetch } = useMessageQuery(id);
  usePageTitle(data?.summary.subject ?? '');
  if (isLoading) return <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  if (!data) return error ? <LoadFailed error={error} retry={() => void refetch()} /> : null;
  return (
    <div className="letter-and-margin">
      <LetterSheet detail={data} />
      <Margin detail={data} />
    </div>
  );
}

function Margin({ detail }: { detail: MessageDetail }) {
  const now = useNow();
  const { summary } = detail;
  const { tone, words } = standing(summary, now);
  return (
    <aside className="margin" aria-label="What is known">
      <h1 className={`tone-${tone}`}>{words}</h1>
      <p className="page-sentence">{sentences(detail, now)}</p>
      {summary.state === 'scheduled' && (
        <Suspense fallback={<Skeleton active title={false} />}>
          <Scheduled summary={summary} />
        </Suspense>
      )}
      <Trail marks={summary.marks} sentAt={summary.sentAt} markHeight={30} />
      <TrailAxis ticks />
      <Copies messageId={summary.id} copies={detail.copies} />
      <History detail={detail} />
      <Deeds detail={detail} />
    </aside>
  );
}

function forDaysWords(days: number): string {
  return days === MESSAGE_LIMITS.trackForDays ? 'as long as it is read' : `${counted(days, 'day')} after sending`;
}

/** What there is to say besides where it stands: first look, silence, what is not tracked. */
function sentences({ summary, template, copies, disclose, trackForDays }: MessageDetail, now: number): string {
  const { tally, sentAt, state, trackOpens, trackLinks, origin, recurrence } = summary;
  const receipts = copies.map((copy) => copy.deliveryReceipt);
  const since = sentAt ?? summary.queuedAt;
  const firstLook = tally.firstOpenAt ?? tally.firstClickAt;
  const parts = [
    tally.lastEventAt !== null && counted(tally.opens, 'open') + `, ${counted(tally.clicks, 'click')}.`,
    firstLook !== null && `First look after ${durationWords(firstLook - since)}.`,
    tally.answeredAt !== null && `Answered ${whenWords(tally.answeredAt, now)}.`,
    state === 'sent' &&
      tally.answeredAt === null &&
      now - since >= DAY &&
      `No answer for ${durationWords(now - since)}.`,
    tally.setAside > 0 && `${tally.setAside} set aside.`,
    recurrence !== null && 'It repeats: the next is written down each time it leaves.',
    origin === 'submitted' && 'Handed in by another mail program.',
    template !== null && `From the template “${template}”.`,
    receipts.includes('asked') && 'A delivery receipt was asked for.',
    receipts.includes('not-offered') && 'A delivery receipt was wanted; your mail server offers none.',
    trackForDays !== null && `Looks count for ${forDaysWords(trackForDays)}.`,
    disclose && 'It tells of its tracking.',
    !trackOpens && trackLinks && 'Opens are not tracked.',
    trackOpens && !trackLinks && 'Links are not tracked.',
  ];
  return parts.filter(Boolean).join(' ');
}
