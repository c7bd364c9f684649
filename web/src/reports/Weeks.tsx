import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { Link } from 'react-router';
import type { WeekOutcome } from '@kiraku/core/contract';
import { weekText } from '@kiraku/core/sentences';
import { dateWords, type Stretch } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { useWidth } from '../shared/hooks/useWidth.js';
import { ChartFrame } from '../shared/ui/ChartFrame.js';
import type { Behind } from './behind.js';
import styles from './reports.module.css';

const HEIGHT = 150;
const TOP = 14;
const BOTTOM = 20;
/** A date needs as much room. */
const DATE_WIDTH = 62;
const WIDEST = 44;

interface WeeksProps {
  weeks: readonly WeekOutcome[];
  /** That the report counts: its first week and its last may be cut short. */
  days: { from: number | null; to: number };
  behind: Behind;
}

/** How many messages were sent each week, and how many of them were read and replied to. */
export function Weeks({ weeks, days, behind }: WeeksProps) {
  const now = useNow();
  const dateOf = ({ monday }: WeekOutcome) => dateWords(dayStart(monday), now);
  const rows = weeks.map((week) => {
    const own = daysOf(week, days);
    return [
      { value: week.monday, words: dateOf(week) },
      { value: week.messages, to: behind('sent', {}, own) },
      { value: week.read, to: behind('wasRead', {}, own) },
      { value: week.replied, to: behind('replied.n', {}, own) },
    ];
  });
  return (
    <ChartFrame title="Week by week" fileName="weeks" table={{ columns: ['Week of', 'Sent', 'Read', 'Replied'], rows }}>
      <WeeksChart weeks={weeks} dateOf={dateOf} linkTo={(week) => behind('sent', {}, daysOf(week, days))} />
    </ChartFrame>
  );
}

/** The days of a week that a report counts, by the user’s clocks. */
function daysOf({ monday }: WeekOutcome, { from, to }: WeeksProps['days']): Stretch {
  const [start, end] = [dayStart(monday), dayStart(monday, 7)];
  return { from: Math.max(start, from ?? start), to: Math.min(end, to) };
}

/** “2026-11-23”, or so many days later, by the user’s clocks. */
function dayStart(date: string, addDays = 0): number {
  const [year, month, day] = date.split('-').map(Number) as [number, number, number];
  return new Date(year, month - 1, day + addDays).getTime();
}

interface WeeksChartProps {
  weeks: readonly WeekOutcome[];
  dateOf(week: WeekOutcome): string;
  linkTo(week: WeekOutcome): string;
}

function WeeksChart({ weeks, dateOf, linkTo }: WeeksChartProps) {
  const [box, width] = useWidth<HTMLDivElement>();
  const most = max(weeks, ({ messages }) => messages) ?? 0;
  const x = scaleBand<number>()
    .domain(weeks.keys())
    .range([0, Math.min(width, weeks.length * WIDEST * 1.4)])
    .paddingInner(0.28);
  const y = scaleLinear()
    .domain([0, Math.max(most, 1)])
    .range([HEIGHT - BOTTOM, TOP]);
  const namedEvery = Math.max(1, Math.ceil(DATE_WIDTH / Math.max(x.step(), 1)));
  return (
    <div ref={box} className={styles.weeks}>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="list" aria-label="Weeks">
          {weeks.map((week, n) => {
            const { monday, messages, read, replied } = week;
            const text = weekText(week, dateOf(week));
            const bar = (name: string | undefined, count: number) => (
              <rect className={name} width={x.bandwidth()} y={y(count)} height={HEIGHT - BOTTOM - y(count)} />
            );
            return (
              <g key={monday} role="listitem" aria-label={text} transform={`translate(${x(n)},0)`}>
                <Link to={linkTo(week)} aria-label={text}>
                  <title>{text}</title>
                  {bar(styles.weekSent, messages)}
                  {bar(styles.weekRead, read)}
                  {bar(styles.weekReplied, replied)}
                </Link>
                {n % namedEvery === 0 && (
                  <text y={HEIGHT - 5} aria-hidden="true">
                    {dateOf(week)}
                  </text>
                )}
                {messages === most && (
                  <text className={styles.weekMost} x={x.bandwidth() / 2} y={TOP - 4} aria-hidden="true">
                    {messages}
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      )}
      <p className={`${styles.weekKey} soft`} aria-hidden="true">
        <span className={styles.weekSent} /> sent <span className={styles.weekRead} /> read{' '}
        <span className={styles.weekReplied} /> replied
      </p>
    </div>
  );
}
