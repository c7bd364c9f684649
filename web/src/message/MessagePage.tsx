import { Segmented, Skeleton, Switch } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { useParams } from 'react-router';
import type { CopyView, HistoryScope, MessageDetail, MessageSummary } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { standing } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Trail, TrailAxis } from '../ui/Trail.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import type { Span } from './Chart.js';
import { Answers } from './Answers.js';
import { Conversation } from './Conversation.js';
import { Copies } from './Copies.js';
import { Deeds } from './Deeds.js';
import { Figures } from './Figures.js';
import { History } from './History.js';
import { lanesByLetter, lanesByReader } from './lanes.js';
import { LetterSheet } from './LetterSheet.js';
import { useConversationQuery, useMarksQuery, useMessageQuery } from './messageApi.js';
import './message.css';

// With what chooses a time: more than all the rest of the page, and seldom wanted.
const Scheduled = lazy(() => import('./Scheduled.js'));
// With what draws pages.
const SentFiles = lazy(() => import('../files/SentFiles.js'));
// With what reads times in words.
const MarginFollowups = lazy(() => import('../followups/MarginFollowups.js'));
// With what zooms and chooses.
const Chart = lazy(() => import('./Chart.js'));

/** The letter with what is known about it in its margin. */
export default function MessagePage() {
  const id = Number(useParams()['id']);
  const { data, error, isLoading, refetch } = useMessageQuery(id);
  usePageTitle(data?.summary.subject ?? '');
  if (isLoading) return <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  if (!data) return error ? <LoadFailed error={error} retry={() => void refetch()} /> : null;
  return (
    <div className="letter-and-margin">
      <div>
        <LetterSheet detail={data} />
        <Answers id={id} copies={data.copies} />
      </div>
      <Margin detail={data} />
    </div>
  );
}

const SCOPES: { value: HistoryScope; label: string }[] = [
  { value: 'letter', label: 'This letter' },
  { value: 'conversation', label: 'The whole conversation' },
];

function Margin({ detail }: { detail: MessageDetail }) {
  const now = useNow();
  const { summary, copies } = detail;
  const { tone, words } = standing(summary, now);
  const { data: conversation = [] } = useConversationQuery(summary.id);
  const [chosen, setChosen] = useState<HistoryScope>('letter');
  const [aside, setAside] = useState(true);
  const [span, setSpan] = useState<Span | null>(null);
  const scope = conversation.length > 1 ? chosen : 'letter';
  const letters = scope === 'letter' ? [summary] : conversation;
  const setAsides = letters.reduce((sum, { tally }) => sum + tally.setAside, 0);
  return (
    <aside className="margin" aria-label="What is known">
      <h1 className={`tone-${tone}`}>{words}</h1>
      <p className="page-sentence">{sentences(detail)}</p>
      {summary.state === 'scheduled' && (
        <Suspense fallback={<Skeleton active title={false} />}>
          <Scheduled summary={summary} />
        </Suspense>
      )}
      <Trail marks={summary.marks} sentAt={summary.sentAt} />
      <TrailAxis ticks />
      {(conversation.length > 1 || setAsides > 0) && (
        <div className="margin-ways no-print">
          {conversation.length > 1 && (
            <Segmented value={scope} options={SCOPES} onChange={setChosen} aria-label="What is summed up" />
          )}
          {setAsides > 0 && (
            <label>
              <Switch size="small" checked={aside} onChange={setAside} /> with what was set aside
            </label>
          )}
        </div>
      )}
      <Suspense fallback={<Skeleton active title={false} paragraph={{ rows: 2 }} />}>
        <Known
          id={summary.id}
          scope={scope}
          letters={letters}
          copies={copies}
          aside={aside}
          span={span}
          onSpan={setSpan}
        />
      </Suspense>
      <Figures letters={letters} copies={scope === 'letter' ? copies : null} />
      {scope === 'letter' && detail.files.length > 0 && (
        <Suspense fallback={<Skeleton active title={false} />}>
          <SentFiles detail={detail} />
        </Suspense>
      )}
      {scope === 'conversation' && <Conversation letters={conversation} current={summary.id} />}
      {scope === 'letter' && <Copies messageId={summary.id} copies={copies} />}
      {summary.state !== 'scheduled' && (
        <Suspense fallback={<Skeleton active title={false} />}>
          <MarginFollowups summary={summary} personId={copies.length === 1 ? copies[0]!.personId : null} />
        </Suspense>
      )}
      <History detail={detail} scope={scope} span={span} aside={aside} />
      <Deeds detail={detail} />
    </aside>
  );
}

interface KnownProps {
  id: number;
  scope: HistoryScope;
  letters: readonly MessageSummary[];
  copies: readonly CopyView[];
  aside: boolean;
  span: Span | null;
  onSpan(span: Span | null): void;
}

/** The chart of what is known. */
function Known({ id, scope, letters, copies, aside, span, onSpan }: KnownProps) {
  const now = useNow();
  const { data: all } = useMarksQuery({ id, scope });
  if (!all) return <Skeleton active title={false} paragraph={{ rows: 2 }} />;
  const marks = aside ? all : all.filter((mark) => mark.counted);
  const lanes = scope === 'letter' ? lanesByReader(marks, copies) : lanesByLetter(marks, letters, now);
  const sentAt = letters[0]?.sentAt ?? null;
  return <Chart marks={marks} lanes={lanes} sentAt={sentAt} span={span} onSpan={onSpan} />;
}

function forDaysWords(days: number): string {
  return days === MESSAGE_LIMITS.trackForDays ? 'as long as it is read' : `${counted(days, 'day')} after sending`;
}

function repeatWords(problem: string | null): string {
  return problem === null
    ? 'It repeats: the next is written down each time it leaves.'
    : `It does not repeat any more: ${problem}`;
}

/** What there is to say besides where it stands and the figures: how it was sent, what is not tracked. */
function sentences({ summary, template, disclose, trackForDays, recurrenceProblem }: MessageDetail): string {
  const { tally, trackOpens, trackLinks, origin, recurrence } = summary;
  const parts = [
    tally.setAside > 0 && `${tally.setAside} set aside.`,
    recurrence !== null && repeatWords(recurrenceProblem),
    origin === 'submitted' && 'Handed in by another mail program.',
    template !== null && `From the template “${template}”.`,
    trackForDays !== null && `Looks count for ${forDaysWords(trackForDays)}.`,
    disclose && 'It tells of its tracking.',
    !trackOpens && trackLinks && 'Opens are not tracked.',
    trackOpens && !trackLinks && 'Links are not tracked.',
  ];
  return parts.filter(Boolean).join(' ');
}
