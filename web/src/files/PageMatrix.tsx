import { max } from 'd3-array';
import { scaleBand, scaleSqrt } from 'd3-scale';
import { pageTimeText, personText, readingTimesText } from '@kiraku/core/sentences';
import type { FileReading } from '@kiraku/core/contract';
import { pageSums, readMs } from '@kiraku/core/files';
import { useWidth } from '../shared/hooks/useWidth.js';
import heatStyles from '../shared/ui/heat.module.css';

/** For names: so much, or this part of a narrow window. */
const NAMES_WIDTH = 170;
const NAMES_PART = 0.36;
const CHARACTER = 7;
const TOP = 20;
const ROW = 26;
const CELL = 30;

export type By = 'recipient' | 'version';

const NAMES: Record<By, (reading: FileReading) => string> = {
  recipient: ({ recipient }) => personText(recipient),
  version: ({ version }) => `Version ${version}`,
};

interface Props {
  readings: readonly FileReading[];
  pages: number;
  by: By;
}

/** Recipients, or versions, beside each other: the larger the square, the longer that page was read. */
export function PageMatrix({ readings, pages, by }: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const rows = rowsOf(readings, by);
  const sums = rows.map(([, own]) => pageSums(own, pages));
  const left = Math.min(NAMES_WIDTH, width * NAMES_PART);
  const most = Math.floor(left / CHARACTER);
  const room = Math.min(Math.max(width - left, 0), pages * CELL);
  const x = scaleBand<number>()
    .domain(Array.from({ length: pages }, (_, index) => index + 1))
    .range([left, left + room])
    .paddingInner(0.15);
  const side = scaleSqrt()
    .domain([0, Math.max(max(sums.flat(), ({ ms }) => ms) ?? 0, 1)])
    .range([0, Math.min(x.bandwidth(), ROW - 4)]);
  const everyNth = Math.ceil(16 / Math.max(x.step(), 1));
  return (
    <div ref={box} className={heatStyles.heat}>
      {width > 0 && (
        <svg width={width} height={TOP + rows.length * ROW} role="img" aria-label={readingTimesText(rows)}>
          {x.domain().map(
            (page) =>
              (page - 1) % everyNth === 0 && (
                <text key={page} x={x(page)! + x.bandwidth() / 2} y={TOP - 7} textAnchor="middle">
                  {page}
                </text>
              ),
          )}
          {rows.map(([name], row) => (
            <g key={name} transform={`translate(0,${TOP + row * ROW})`}>
              <text y={ROW / 2 + 4}>{name.length > most ? `${name.slice(0, most - 1)}…` : name}</text>
              {sums[row]!.map(({ page, ms }) => {
                const size = side(ms);
                return (
                  <g key={page}>
                    <rect className={heatStyles.cell} x={x(page)} width={x.bandwidth()} y={2} height={ROW - 4} />
                    {ms > 0 && (
                      <rect
                        className={heatStyles.times}
                        x={x(page)! + (x.bandwidth() - size) / 2}
                        y={(ROW - size) / 2}
                        width={size}
                        height={size}
                      >
                        <title>{pageTimeText(name, page, ms)}</title>
                      </rect>
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

/** The longest reading first; versions in their order. */
function rowsOf(readings: readonly FileReading[], by: By): [string, FileReading[]][] {
  const rows = new Map<string, FileReading[]>();
  for (const reading of readings) {
    const name = NAMES[by](reading);
    rows.set(name, [...(rows.get(name) ?? []), reading]);
  }
  const sumOf = (own: readonly FileReading[]) => own.reduce((sum, reading) => sum + readMs(reading), 0);
  return [...rows].sort(([, a], [, b]) => (by === 'version' ? a[0]!.version - b[0]!.version : sumOf(b) - sumOf(a)));
}
