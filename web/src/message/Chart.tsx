import { Button } from 'antd';
import { axisBottom } from 'd3-axis';
import { brushX, type D3BrushEvent } from 'd3-brush';
import { scaleTime } from 'd3-scale';
import { select } from 'd3-selection';
import { timeFormat } from 'd3-time-format';
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom';
import { useEffect, useMemo, useRef, useState } from 'react';
import { markText, trailText } from '@kiraku/core/sentences';
import type { ChartEvent } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { isNow, groupEvents, type MarkGroup } from '@kiraku/core/tracking';
import { useNow } from '../shared/hooks/useNow.js';
import { markClass, MarkShape } from '../shared/ui/MarkShape.js';
import { useWidth } from '../shared/hooks/useWidth.js';
import type { Lane } from './lanes.js';
import marksStyles from '../shared/ui/marks.module.css';
import styles from './chart.module.css';
import trailStyles from '../shared/ui/trail.module.css';

/** A span of time, epoch milliseconds. */
export type Span = readonly [from: number, to: number];

interface ChartProps {
  trailEvents: readonly ChartEvent[];
  lanes: readonly Lane[];
  sentAt: number | null;
  /** What was chosen of the time; null for all of it. */
  span: Span | null;
  onSpan(span: Span | null): void;
}

const LANE = 40;
/** Where the line of a lane lies. */
const LINE = LANE - 12;
const AXIS = 24;
/** Room at both ends, so that a mark with its number is whole. */
const EDGE = 8;
const RIGHT_EDGE = 20;
/** Marks nearer than this would touch. */
const GAP = 11;
const MARK_HEIGHT = 20;
/** The shortest time that fills the width. */
const CLOSEST_MS = 5 * MINUTE;
const STEP = 3;
/** Room for the name of one tick. */
const TICK_WIDTH = 84;

const clock = timeFormat('%H:%M');
const day = timeFormat('%-d %b');
const tickWords = (date: Date | { valueOf(): number }) => {
  const at = new Date(date.valueOf());
  return at.getHours() === 0 && at.getMinutes() === 0 ? day(at) : clock(at);
};

/** Everything that happened, from minutes to months: drag to choose a span of time, and the history follows. */
export default function Chart({ trailEvents, lanes, sentAt, span, onSpan }: ChartProps) {
  const [box, width] = useWidth<HTMLDivElement>();
  const now = useNow();
  const svg = useRef<SVGSVGElement>(null);
  const axis = useRef<SVGGElement>(null);
  const brush = useRef<SVGGElement>(null);
  const [transform, setTransform] = useState(zoomIdentity);
  const start = Math.min(sentAt ?? now, trailEvents[0]?.at ?? now, now - CLOSEST_MS);
  const height = lanes.length * LANE + AXIS;

  const x = useMemo(
    () => transform.rescaleX(scaleTime([start, now], [EDGE, Math.max(width - RIGHT_EDGE, EDGE + 1)])),
    [transform, start, now, width],
  );

  const zooming = useMemo(
    () =>
      zoom<SVGSVGElement, unknown>()
        .scaleExtent([1, Math.max(1, (now - start) / CLOSEST_MS)])
        .translateExtent([
          [0, 0],
          [width, height],
        ])
        .extent([
          [0, 0],
          [width, height],
        ])
        // A plain wheel scrolls the page; pinching comes as a wheel with Ctrl.
        .filter(
          (event: Event) => event.type === 'wheel' && ((event as WheelEvent).ctrlKey || (event as WheelEvent).metaKey),
        )
        .on('zoom', (event: D3ZoomEvent<SVGSVGElement, unknown>) => setTransform(event.transform)),
    [width, height, start, now],
  );

  useEffect(() => {
    if (svg.current) select(svg.current).call(zooming);
  }, [zooming]);

  useEffect(() => {
    if (!axis.current) return;
    const ticks = axisBottom<Date>(x)
      .ticks(Math.max(2, Math.floor(width / TICK_WIDTH)))
      .tickFormat(tickWords);
    select(axis.current).call(ticks.tickSizeOuter(0));
  }, [x, width]);

  useEffect(() => {
    if (!brush.current || width === 0) return;
    const brushing = brushX<unknown>()
      .extent([
        [0, 0],
        [width, height - AXIS],
      ])
      .on('end', (event: D3BrushEvent<unknown>) => {
        // What is moved from here says nothing new.
        if (!event.sourceEvent) return;
        const chosen = event.selection as [number, number] | null;
        onSpan(chosen && [x.invert(chosen[0]).valueOf(), x.invert(chosen[1]).valueOf()]);
      });
    const group = select(brush.current);
    group.call(brushing).call(brushing.move, span && [x(span[0]), x(span[1])]);
  }, [x, width, height, span, onSpan]);

  /** Around the last event: it is what one wants to see closer. */
  const byStep = (factor: number) => {
    if (svg.current) select(svg.current).call(zooming.scaleBy, factor, [x(trailEvents.at(-1)?.at ?? now), 0]);
  };
  const all = () => {
    if (svg.current) select(svg.current).call(zooming.transform, zoomIdentity);
  };
  const [left, right] = x.domain().map((date) => date.valueOf()) as [number, number];

  return (
    <div className={styles.chart}>
      <div ref={box} className={styles.box}>
        {width > 0 && (
          <svg ref={svg} width={width} height={height} role="img" aria-label={trailText(trailEvents, sentAt, now)}>
            <defs>
              <clipPath id="chart-clip">
                <rect width={width} height={height} />
              </clipPath>
            </defs>
            <g ref={brush} className={styles.brush} />
            <g clipPath="url(#chart-clip)" className={styles.marks}>
              {lanes.map((lane, index) => (
                <g key={lane.key} transform={`translate(0,${index * LANE})`}>
                  <text className={styles.lane} y={11}>
                    {lane.label}
                  </text>
                  <path className={trailStyles.line} d={`M${Math.max(x(sentAt ?? start), 0)},${LINE} H${x(now)}`} />
                  {sentAt !== null && <circle className={trailStyles.sent} cx={x(sentAt)} cy={LINE} r={3.4} />}
                  {groupEvents(lane.trailEvents, (mark) => x(mark.at), GAP).map((group) => (
                    <Group key={group.trailEvents[0]!.eventId} group={group} now={now} />
                  ))}
                </g>
              ))}
            </g>
            <g ref={axis} className={styles.axis} transform={`translate(0,${height - AXIS})`} />
          </svg>
        )}
      </div>
      <div className={`${styles.ways} no-print`}>
        <Button size="small" type="text" onClick={() => byStep(STEP)}>
          Zoom in
        </Button>
        <Button size="small" type="text" disabled={transform.k === 1} onClick={() => byStep(1 / STEP)}>
          Zoom out
        </Button>
        <Button size="small" type="text" disabled={transform.k === 1} onClick={all}>
          Show all
        </Button>
        {span ? (
          <Button size="small" type="text" onClick={() => onSpan(null)}>
            Activity of all time
          </Button>
        ) : (
          <Button size="small" type="text" disabled={transform.k === 1} onClick={() => onSpan([left, right])}>
            Activity in this time only
          </Button>
        )}
      </div>
    </div>
  );
}

function Group({ group, now }: { group: MarkGroup<ChartEvent>; now: number }) {
  const newest = group.trailEvents.reduce((a, b) => (b.at > a.at ? b : a));
  const isRecent = group.counted && isNow(newest.at, now);
  const shown = group.counted ? group.trailEvents.filter((mark) => mark.counted).length : group.trailEvents.length;
  return (
    <g className={markClass(group.counted, isRecent)} transform={`translate(${group.x},${LINE})`}>
      <title>{markText(newest, shown)}</title>
      <MarkShape shape={group.shape} height={MARK_HEIGHT} />
      {shown > 1 && (
        <text className={marksStyles.markNumber} x={7} y={-4}>
          {shown}
        </text>
      )}
    </g>
  );
}
