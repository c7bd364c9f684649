import type { CopyView, MessageSummary } from '@kiraku/core/contract';
import { countText } from '@kiraku/core/sentences';
import { durationWords } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { When } from '../shared/ui/When.js';
import styles from './chart.module.css';

type CountFields = Pick<
  MessageSummary['tally'],
  'opens' | 'clicks' | 'fileViews' | 'uncertainOpens' | 'uncertainClicks' | 'uncertainViews'
>;

/** The figures of one message, or of all messages of a conversation together. */
export function Figures({
  messages,
  copies,
}: {
  messages: readonly MessageSummary[];
  copies: readonly CopyView[] | null;
}) {
  const now = useNow();
  const tallies = messages.map(({ tally }) => tally);
  const sum = (name: keyof CountFields) => tallies.reduce((total, tally) => total + tally[name], 0);
  const [first] = messages;
  const sentAt = first?.sentAt ?? null;
  const firstOpenAt = earliest(tallies.map((tally) => tally.firstOpenAt));
  const lastAt = latest(tallies.map((tally) => tally.lastEventAt));
  const repliedAt = earliest(tallies.map((tally) => tally.repliedAt));
  const readers = copies?.reduce((total, copy) => total + copy.readers.length, 0) ?? null;
  const figures: [name: string, value: React.ReactNode][] = [
    ['Opens', countText(sum('opens'), sum('uncertainOpens'))],
    ['Clicks', countText(sum('clicks'), sum('uncertainClicks'))],
    ['File views', countText(sum('fileViews'), sum('uncertainViews'))],
    ['Time to reply', repliedAt !== null && sentAt !== null && durationWords(repliedAt - sentAt)],
    ['Waiting for a reply', repliedAt === null && sentAt !== null && durationWords(now - sentAt)],
    ['First open', firstOpenAt !== null && <When at={firstOpenAt} />],
    ['Time to first open', firstOpenAt !== null && sentAt !== null && durationWords(firstOpenAt - sentAt)],
    ['Last activity', lastAt !== null && <When at={lastAt} />],
    ['Likely readers', readers !== null && readers > 0 && String(readers)],
  ];
  return (
    <dl className={styles.figuresList}>
      {figures
        .filter(([, value]) => value)
        .map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
    </dl>
  );
}

function earliest(times: (number | null)[]): number | null {
  const known = times.filter((time) => time !== null);
  return known.length === 0 ? null : Math.min(...known);
}

function latest(times: (number | null)[]): number | null {
  const known = times.filter((time) => time !== null);
  return known.length === 0 ? null : Math.max(...known);
}
