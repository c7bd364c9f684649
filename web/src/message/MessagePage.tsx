import { Button, Segmented, Skeleton, Switch } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { useParams } from 'react-router';
import { messageNotes, messageStatus } from '@kiraku/core/sentences';
import type { CopyView, HistoryScope, MessageDetail, MessageSummary } from '@kiraku/core/contract';
import { NoteField } from './NoteField.js';
import { toneClass } from '../shared/ui/tone.js';
import { useNow } from '../shared/hooks/useNow.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Trail, TrailAxis } from '../shared/ui/Trail.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import type { Span } from './Chart.js';
import { Replies } from './Replies.js';
import { Conversation } from './Conversation.js';
import { Copies } from './Copies.js';
import { MessageActions } from './MessageActions.js';
import { Figures } from './Figures.js';
import { History } from './History.js';
import { lanesByMessage, lanesByReader } from './lanes.js';
import { MessageSheet } from './MessageSheet.js';
import { useConversationQuery, useChartQuery, useMessageQuery } from '../shared/api/messageApi.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './message.module.css';

// With what chooses a time: more than all the rest of the page, and seldom wanted.
const Scheduled = lazy(() => import('./Scheduled.js'));
// With what draws pages.
const SentFiles = lazy(() => import('../files/SentFiles.js'));
// With what reads times in words.
const MarginFollowups = lazy(() => import('../followups/MarginFollowups.js'));
// With what zooms and chooses.
const Chart = lazy(() => import('./Chart.js'));

/** The message with what is known about it in its margin. */
export default function MessagePage() {
  const id = Number(useParams()['id']);
  const { data, error, isLoading, refetch } = useMessageQuery(id);
  const [shown, setShown] = useState<number | null>(null);
  usePageTitle(data?.summary.subject ?? '');
  if (isLoading) return <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  if (!data) return error ? <LoadFailed error={error} retry={() => void refetch()} /> : null;
  return (
    <div className={pageStyles.messageAndMargin}>
      <div className={pageStyles.sheets}>
        <MessageSheet detail={data} onShown={() => setShown(id)} />
        <Replies id={id} copies={data.copies} />
        {/* Once the text above has its height, so that they do not move. */}
        {shown === id && data.files.length > 0 && (
          <Suspense>
            <SentFiles detail={data} />
          </Suspense>
        )}
      </div>
      <Margin detail={data} />
    </div>
  );
}

const SCOPES: { value: HistoryScope; label: string }[] = [
  { value: 'message', label: 'This message' },
  { value: 'conversation', label: 'Whole conversation' },
];

function Margin({ detail }: { detail: MessageDetail }) {
  const now = useNow();
  const { summary, copies } = detail;
  const { tone, text } = messageStatus(summary, now);
  const { data: conversation = [] } = useConversationQuery(summary.id);
  const [chosen, setChosen] = useState<HistoryScope>('message');
  const [notCounted, setNotCounted] = useState(true);
  const [hasChart, setHasChart] = useState(false);
  const [span, setSpan] = useState<Span | null>(null);
  const scope = conversation.length > 1 ? chosen : 'message';
  const messages = scope === 'message' ? [summary] : conversation;
  const hidden = messages.reduce((sum, { tally }) => sum + tally.notCounted, 0);
  return (
    <aside className={pageStyles.margin} aria-label="What is known">
      <h1 className={toneClass(tone)}>{text}</h1>
      <p className={pageStyles.sentence}>{messageNotes(detail)}</p>
      <MessageActions detail={detail} />
      {summary.state === 'scheduled' && (
        <Suspense fallback={<Skeleton active title={false} />}>
          <Scheduled summary={summary} />
        </Suspense>
      )}
      <Trail trailEvents={summary.trailEvents} sentAt={summary.sentAt} />
      <TrailAxis ticks />
      <Figures messages={messages} copies={scope === 'message' ? copies : null} />
      <div className={`${styles.marginWays} no-print`}>
        {conversation.length > 1 && (
          <Segmented value={scope} options={SCOPES} onChange={setChosen} aria-label="What is shown" />
        )}
        {hidden > 0 && (
          <label>
            <Switch size="small" checked={notCounted} onChange={setNotCounted} /> include what is not counted
          </label>
        )}
        <Button
          type="link"
          className={styles.chartButton}
          aria-expanded={hasChart}
          onClick={() => (setHasChart(!hasChart), setSpan(null))}
        >
          {hasChart ? 'Hide the chart' : 'Show the chart'}
        </Button>
      </div>
      {hasChart && (
        <Suspense fallback={<Skeleton active title={false} paragraph={{ rows: 2 }} />}>
          <Known
            id={summary.id}
            scope={scope}
            messages={messages}
            copies={copies}
            notCounted={notCounted}
            span={span}
            onSpan={setSpan}
          />
        </Suspense>
      )}
      {scope === 'message' && copies.length > 1 && <Copies messageId={summary.id} copies={copies} />}
      <History detail={detail} scope={scope} span={span} notCounted={notCounted} />
      {scope === 'message' && copies.length === 1 && <Copies messageId={summary.id} copies={copies} />}
      {scope === 'conversation' && <Conversation messages={conversation} current={summary.id} />}
      {summary.state !== 'scheduled' && (
        <Suspense>
          <MarginFollowups id={summary.id} />
        </Suspense>
      )}
      <NoteField key={summary.id} id={summary.id} note={detail.note} />
    </aside>
  );
}

interface KnownProps {
  id: number;
  scope: HistoryScope;
  messages: readonly MessageSummary[];
  copies: readonly CopyView[];
  notCounted: boolean;
  span: Span | null;
  onSpan(span: Span | null): void;
}

/** The chart of what is known. */
function Known({ id, scope, messages, copies, notCounted, span, onSpan }: KnownProps) {
  const now = useNow();
  const { data: all } = useChartQuery({ id, scope });
  if (!all) return <Skeleton active title={false} paragraph={{ rows: 2 }} />;
  const trailEvents = notCounted ? all : all.filter(({ counted }) => counted);
  const lanes = scope === 'message' ? lanesByReader(trailEvents, copies) : lanesByMessage(trailEvents, messages, now);
  const sentAt = messages[0]?.sentAt ?? null;
  return <Chart trailEvents={trailEvents} lanes={lanes} sentAt={sentAt} span={span} onSpan={onSpan} />;
}
