import { trailText } from '@kiraku/core/sentences';
import type { TrailEvent } from '@kiraku/core/contract';
import { isNow, groupEvents, TRAIL_STEPS, trailPosition } from '@kiraku/core/tracking';
import { useNow } from '../hooks/useNow.js';
import { markClass, MarkShape } from './MarkShape.js';
import { useWidth } from '../hooks/useWidth.js';
import marksStyles from './marks.module.css';
import trailStyles from './trail.module.css';

interface TrailProps {
  trailEvents: readonly TrailEvent[];
  sentAt: number | null;
  /** Height of an upright stroke; the line lies in the middle. */
  markHeight?: number;
}

/** Room at both ends, so that a mark at the edge is whole. */
const EDGE = 8;
/** Marks nearer than this would touch. */
const GAP = 11;

/** On an axis narrower than this the names of the steps would touch: every other one is left out. */
const NARROW = 330;

/** The trail of one message: from the dot where it was sent to now at the right edge. */
export function Trail({ trailEvents, sentAt, markHeight = 18 }: TrailProps) {
  const [box, width] = useWidth<HTMLDivElement>('trail');
  const now = useNow();
  const height = markHeight + 26;
  const middle = height / 2 + 3;
  const x = (at: number) => EDGE + trailPosition(now - at) * (width - 2 * EDGE);
  const groups = groupEvents(trailEvents, (mark) => x(mark.at), GAP);

  return (
    <div ref={box} className={trailStyles.trail}>
      {width > 0 && (
        <svg width={width} height={height} role="img" aria-label={trailText(trailEvents, sentAt, now)}>
          {sentAt !== null && (
            <>
              <path className={trailStyles.line} d={`M${x(sentAt)},${middle} H${width - EDGE}`} />
              <circle className={trailStyles.sent} cx={x(sentAt)} cy={middle} r={3.4} />
            </>
          )}
          {groups.map((group) => {
            const newest = group.trailEvents.reduce((a, b) => (b.at > a.at ? b : a));
            const shown = group.counted
              ? group.trailEvents.filter((mark) => mark.counted).length
              : group.trailEvents.length;
            const isRecent = group.counted && isNow(newest.at, now);
            return (
              <g
                key={newest.eventId}
                className={markClass(group.counted, isRecent)}
                transform={`translate(${group.x},${middle})`}
              >
                <MarkShape shape={group.shape} height={markHeight} />
                {shown > 1 && (
                  <text className={marksStyles.markNumber} y={-markHeight / 2 - 3} textAnchor="middle">
                    {shown}
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      )}
    </div>
  );
}

/** The steps of the axis, over or under trails of the same width. */
export function TrailAxis({ ticks = false }: { ticks?: boolean }) {
  const [box, width] = useWidth<HTMLDivElement>();
  return (
    <div ref={box} className={trailStyles.axis} aria-hidden="true">
      {width > 0 && (
        <svg width={width} height={ticks ? 24 : 18}>
          {TRAIL_STEPS.map(({ label, ageMs }, index) => {
            if (width < NARROW && index % 2 === 1 && index < TRAIL_STEPS.length - 1) return null;
            const x = EDGE + trailPosition(ageMs) * (width - 2 * EDGE);
            const last = index === TRAIL_STEPS.length - 1;
            return (
              <g key={label} transform={`translate(${x},0)`}>
                {ticks && <path className={trailStyles.line} d="M0,0 V5" />}
                <text x={last ? EDGE : 0} y={ticks ? 19 : 13} textAnchor={last ? 'end' : 'middle'}>
                  {label}
                </text>
              </g>
            );
          })}
        </svg>
      )}
    </div>
  );
}
