import type { ReadingTimes } from '@kiraku/core/contract';
import { max } from 'd3-array';
import { scaleBand, scaleSqrt } from 'd3-scale';
import { hourSumText, readingTimesSentence } from '@kiraku/core/sentences';
import { WEEKDAYS } from '@kiraku/core/people';
import { timeFormat } from '@kiraku/core/time';
import type { PropsWithChildren } from 'react';
import { Link } from 'react-router';
import { useWidth } from '../hooks/useWidth.js';
import styles from './heat.module.css';

const HOURS = Array.from({ length: 24 }, (_, hour) => hour);
const LEFT = 36;
const TOP = 16;
const ROW = 22;
/** Every so many hours one is named. */
const NAMED_EVERY = 3;

interface HeatMapProps {
  times: ReadingTimes;
  /** Where the messages of an hour are. */
  linkTo?: (weekday: number, hour: number) => string;
}

/** When somebody reads, by weekday and hour: the larger the square, the more often. */
export function HeatMap({ times, linkTo }: HeatMapProps) {
  const [box, width] = useWidth<HTMLDivElement>();
  const x = scaleBand<number>().domain(HOURS).range([LEFT, width]).paddingInner(0.12);
  // The rows count from Monday, the user’s week perhaps from another day.
  const first = (timeFormat().firstDay + 6) % WEEKDAYS.length;
  const y = scaleBand<number>()
    .domain(WEEKDAYS.map((_, index) => (index + first) % WEEKDAYS.length))
    .range([TOP, TOP + 7 * ROW])
    .paddingInner(0.12);
  const most = max(times.readTimes.flat()) ?? 0;
  const side = scaleSqrt()
    .domain([0, Math.max(most, 1)])
    .range([0, Math.min(x.bandwidth(), y.bandwidth())]);
  const words = readingTimesSentence(times);
  return (
    <div ref={box} className={styles.heat}>
      {width > 0 && (
        <svg width={width} height={TOP + 7 * ROW} role={linkTo ? 'group' : 'img'} aria-label={words}>
          {HOURS.filter((hour) => hour % NAMED_EVERY === 0).map((hour) => (
            <text key={hour} x={x(hour)} y={TOP - 5}>
              {String(hour).padStart(2, '0')}
            </text>
          ))}
          {times.readTimes.map((hours, weekday) => (
            <g key={weekday} transform={`translate(0,${y(weekday)})`}>
              <text y={y.bandwidth() / 2 + 4}>{WEEKDAYS[weekday]}</text>
              {hours.map((readTimes, hour) => {
                const middle = x(hour)! + x.bandwidth() / 2;
                const size = side(readTimes);
                const isBusiest = times.busiest?.weekday === weekday && times.busiest.hour === hour;
                return (
                  <g key={hour}>
                    <rect
                      className={isBusiest ? `${styles.cell} ${styles.best}` : styles.cell}
                      x={x(hour)}
                      width={x.bandwidth()}
                      height={y.bandwidth()}
                    />
                    {readTimes > 0 && (
                      // To be reached by keyboard they stand in the table.
                      <Linked to={linkTo?.(weekday, hour)} words={hourSumText(weekday, hour, readTimes)}>
                        <rect
                          className={styles.times}
                          x={middle - size / 2}
                          y={(y.bandwidth() - size) / 2}
                          width={size}
                          height={size}
                        >
                          <title>{hourSumText(weekday, hour, readTimes)}</title>
                        </rect>
                      </Linked>
                    )}
                  </g>
                );
              })}
            </g>
          ))}
        </svg>
      )}
    </div>
  );
}

function Linked({ to, words, children }: PropsWithChildren<{ to: string | undefined; words: string }>) {
  return to === undefined ? (
    children
  ) : (
    <Link to={to} tabIndex={-1} aria-label={words}>
      {children}
    </Link>
  );
}
