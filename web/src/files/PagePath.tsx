import { cumsum } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { curveStepAfter, line } from 'd3-shape';
import { pathText, visitText } from '@kiraku/core/sentences';
import type { FileReading } from '@kiraku/core/contract';
import { readMs } from '@kiraku/core/files';
import { useWidth } from '../shared/hooks/useWidth.js';
import styles from './files.module.css';

const EDGE = 4;
/** Above the line, for the number of the page. */
const ABOVE = 12;
/** Steps narrower than this bear no number. */
const NAMED_FROM = 16;
const STEP = 7;
const MAX_HEIGHT_PX = 84;

/** The way somebody took through the pages: time to the right, pages downwards. */
export function PagePath({ reading, pages }: { reading: FileReading; pages: number }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const height = Math.min(MAX_HEIGHT_PX, ABOVE + EDGE + (pages - 1) * STEP);
  const x = scaleLinear()
    .domain([0, Math.max(readMs(reading), 1)])
    .range([EDGE, Math.max(width - EDGE, EDGE)]);
  const y = scaleLinear()
    .domain([1, Math.max(pages, 2)])
    .range([ABOVE, Math.max(height - EDGE, ABOVE)]);
  const ends = cumsum(reading.visits, ({ ms }) => ms);
  const corners = reading.visits.map(({ page }, index): [number, number] => [x(ends[index - 1] ?? 0), y(page)]);
  const end: [number, number] = [x(ends.at(-1) ?? 0), y(reading.visits.at(-1)?.page ?? 1)];
  const path = line().curve(curveStepAfter)([...corners, end]);
  return (
    <div ref={box} className={styles.pagePath}>
      {width > 0 && (
        <svg width={width} height={height} role="img" aria-label={pathText(reading)}>
          <path d={path ?? ''} />
          {corners.map(([cx, cy], index) => (
            <g key={index} transform={`translate(${cx},${cy})`}>
              <title>{visitText(reading.visits[index]!)}</title>
              <circle r={2} />
              {x(ends[index]!) - cx >= NAMED_FROM && (
                <text x={4} y={-3}>
                  {reading.visits[index]!.page}
                </text>
              )}
            </g>
          ))}
        </svg>
      )}
    </div>
  );
}
