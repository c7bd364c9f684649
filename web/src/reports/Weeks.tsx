import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { utcFormat } from 'd3-time-format';
import type { WeekOutcome } from '@kiraku/core/contract';
import { weekText } from '@kiraku/core/sentences';
import { useWidth } from '../shared/hooks/useWidth.js';
import styles from './reports.module.css';

const HEIGHT = 150;
const TOP = 14;
const BOTTOM = 20;
/** A date needs as much room. */
const DATE_WIDTH = 62;
const WIDEST = 44;
const dateOf = utcFormat('%-d %b');

/** How many messages were sent each week, and how many of them were read and replied to. */
export function Weeks({ weeks }: { weeks: readonly WeekOutcome[] }) {
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
            const text = weekText(week, dateOf(new Date(monday)));
            const bar = (name: string | undefined, count: number) => (
              <rect className={name} width={x.bandwidth()} y={y(count)} height={HEIGHT - BOTTOM - y(count)} />
            );
            return (
              <g key={monday} role="listitem" aria-label={text} transform={`translate(${x(n)},0)`}>
                <title>{text}</title>
                {bar(styles.weekSent, messages)}
                {bar(styles.weekRead, read)}
                {bar(styles.weekReplied, replied)}
                {n % namedEvery === 0 && (
                  <text y={HEIGHT - 5} aria-hidden="true">
                    {dateOf(new Date(monday))}
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
