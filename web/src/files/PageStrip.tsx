import { max } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { useState } from 'react';
import { pagesSentence, pageSumText, secondsText } from '@kiraku/core/sentences';
import type { FileReading, FileVersion } from '@kiraku/core/contract';
import { pageNow, pageSums, whereReadersStop } from '@kiraku/core/files';
import { useNow } from '../shared/hooks/useNow.js';
import Thumbnail from './Thumbnail.js';
import styles from './files.module.css';

const BAR = 34;
/** More are shown when they are asked for. */
const PAGES_SHOWN = 24;

interface Props {
  version: FileVersion;
  readings: readonly FileReading[];
  /** In a margin. */
  isNarrow?: boolean;
}

/** Each page, small, with the time that it was read for: the taller the bar, the longer. */
export function PageStrip({ version, readings, isNarrow = false }: Props) {
  const now = useNow();
  const [all, setAll] = useState(false);
  const pages = version.pages ?? 0;
  const own = readings.filter((reading) => reading.counted && reading.version === version.number);
  const sums = pageSums(own, pages, (reading) => pageNow(reading, now) === null);
  const height = scaleLinear()
    .domain([0, Math.max(max(sums, ({ ms }) => ms) ?? 0, 1)])
    .range([0, BAR]);
  const stop = whereReadersStop(sums);
  const nowOn = new Set(own.map((reading) => pageNow(reading, now)));
  const shown = all ? sums : sums.slice(0, PAGES_SHOWN);
  return (
    <>
      <ol
        className={isNarrow ? `${styles.pageStrip} ${styles.pageStripNarrow}` : styles.pageStrip}
        aria-label="Pages and how long each was read"
      >
        {shown.map((sum) => (
          <li key={sum.page} className={nowOn.has(sum.page) ? styles.isNow : ''}>
            <Thumbnail versionId={version.id} page={sum.page} />
            <svg width="100%" height={BAR} preserveAspectRatio="none" viewBox={`0 0 10 ${BAR}`} aria-hidden="true">
              <rect className={styles.pageBar} x={0} width={10} y={BAR - height(sum.ms)} height={height(sum.ms)} />
            </svg>
            <span className="figures">{sum.ms === 0 ? '–' : secondsText(sum.ms)}</span>
            <span className="skip">{pageSumText(sum)}</span>
            <span className="soft" aria-hidden="true">
              {nowOn.has(sum.page) ? 'now' : sum.page}
            </span>
          </li>
        ))}
      </ol>
      {sums.length > shown.length && (
        <button type="button" className={styles.morePages} onClick={() => setAll(true)}>
          {`Show the other ${sums.length - shown.length} pages`}
        </button>
      )}
      <p className="soft">{pagesSentence(sums, stop)}</p>
    </>
  );
}
