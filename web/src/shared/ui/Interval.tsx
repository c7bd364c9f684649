import { scaleLinear } from 'd3-scale';
import type { Rate } from '@kiraku/core/contract';
import styles from './interval.module.css';

const WIDTH = 220;
const HEIGHT = 20;
const x = scaleLinear()
  .domain([0, 1])
  .range([1, WIDTH - 1]);

/** A share as a mark on the way from none to all, with the stretch in which the truth lies. Words beside it say the same. */
export function Interval({ rate: { share, low, high } }: { rate: Rate }) {
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} aria-hidden="true">
      <path className={styles.all} d={`M${x(0)},${HEIGHT / 2} H${x(1)}`} />
      {share !== null && (
        <>
          <rect className={styles.likely} x={x(low)} width={x(high) - x(low)} y={HEIGHT / 2 - 4} height={8} />
          <path className={styles.share} d={`M${x(share)},2 V${HEIGHT - 2}`} />
        </>
      )}
    </svg>
  );
}
