import { Tooltip } from 'antd';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { eventLine, eventLinesText, lastHourText, personText } from '@kiraku/core/sentences';
import type { EventView } from '@kiraku/core/contract';
import { HOUR } from '@kiraku/core/time';
import { isNow, groupEvents, type MarkGroup } from '@kiraku/core/tracking';
import { useNow } from '../shared/hooks/useNow.js';
import { markClass, MarkShape } from '../shared/ui/MarkShape.js';
import { useWidth } from '../shared/hooks/useWidth.js';
import { useRecentQuery } from '../shared/api/recentApi.js';
import marksStyles from '../shared/ui/marks.module.css';
import styles from './lastHour.module.css';

/** Nearer marks could not be pressed apart (WCAG 2.2, 2.5.8: 24 pixels). */
const GAP = 24;
const TICKS = [60, 50, 40, 30, 20, 10];
/** In a tip; the rest is on the message's page. */
const LINES = 6;

/**
 * The past sixty minutes along the top of every page: each event at its minute.
 *
 * @param isFolded in one line, which opens it
 */
export function LastHour({ isFolded }: { isFolded: boolean }) {
  const { data } = useRecentQuery(null);
  const now = useNow();
  const [isOpen, setOpen] = useState(false);
  const [line, width] = useWidth<HTMLDivElement>();
  const recent = useMemo(() => data?.events.filter((event) => now - event.at < HOUR) ?? [], [data, now]);
  const x = (at: number) => Math.max(0, 1 - (now - at) / HOUR) * width;
  const groups = groupEvents(recent, (event) => x(event.at), GAP);
  const notCounted = recent.filter((event) => !event.counted).length;
  const shown = recent.length - notCounted;
  const total = lastHourText(shown === 0 ? 0 : shown + (data?.leftOut ?? 0));
  const lastNow = recent.findLast((event) => event.counted && isNow(event.at, now));

  return (
    <section className={`${styles.lastHour} ${isFolded ? styles.folded : ''} no-print`} aria-label="The last hour">
      {isFolded ? (
        <button type="button" className={styles.fold} aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          <b>Last hour</b> <span className="soft figures">{total}</span>
          {lastNow && <span className="tone-now"> · {personText(lastNow.recipient)} now</span>}
          <span aria-hidden="true" className={styles.foldMark}>
            {isOpen ? '−' : '+'}
          </span>
        </button>
      ) : (
        <div className={styles.words}>
          <b>Last hour</b>
          <span className="soft figures">
            {total}
            {notCounted > 0 && <span className={styles.notCounted}>, {notCounted} not counted</span>}
          </span>
        </div>
      )}
      {(!isFolded || isOpen) && (
        <div ref={line} className={styles.line}>
          {TICKS.map((minutes) => (
            <span
              key={minutes}
              className={styles.tick}
              style={{ left: `${100 - (minutes / 60) * 100}%` }}
              aria-hidden="true"
            >
              {minutes} min
            </span>
          ))}
          <span className={`${styles.tick} ${styles.now}`} style={{ left: '100%' }} aria-hidden="true">
            now
          </span>
          {width > 0 && groups.map((group) => <LastHourMark key={newestOf(group).eventId} group={group} now={now} />)}
        </div>
      )}
    </section>
  );
}

function LastHourMark({ group, now }: { group: MarkGroup<EventView>; now: number }) {
  const newest = newestOf(group);
  const isRecent = group.counted && isNow(newest.at, now);
  const lines = [...group.trailEvents]
    .sort((a, b) => b.at - a.at)
    .slice(0, LINES)
    .map(eventLine);
  const more = group.trailEvents.length - lines.length;
  const shown = group.trailEvents.filter((mark) => mark.counted === group.counted).length;
  return (
    <Tooltip
      title={
        <>
          {lines.map((words, index) => (
            <div key={index}>{words}</div>
          ))}
          {more > 0 && <div>and {more} more</div>}
        </>
      }
    >
      <Link
        to={`/sent/${newest.messageId}`}
        className={markClass(group.counted, isRecent)}
        style={{ left: group.x }}
        aria-label={eventLinesText(shown, lines)}
      >
        <svg width={GAP} height={34} viewBox="-12 -20 24 34" aria-hidden="true">
          <MarkShape shape={group.shape} height={16} />
          {shown > 1 && (
            <text className={marksStyles.markNumber} y={-10} textAnchor="middle">
              {shown}
            </text>
          )}
        </svg>
      </Link>
    </Tooltip>
  );
}

function newestOf(group: MarkGroup<EventView>): EventView {
  return group.trailEvents.reduce((a, b) => (b.at > a.at ? b : a));
}
