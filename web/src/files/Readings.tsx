import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { personText, readingContext, readingText } from '@kiraku/core/sentences';
import type { FileReading } from '@kiraku/core/contract';
import { pageNow } from '@kiraku/core/files';
import { useNow } from '../shared/hooks/useNow.js';
import { When } from '../shared/ui/When.js';
import { PagePath } from './PagePath.js';
import styles from './files.module.css';

const READINGS_SHOWN = 6;

interface Props {
  readings: readonly FileReading[];
  pages: number | null;
  /** Whether it is said which message each came from. */
  withMessage?: boolean;
}

/** Who read it, each time: how much, for how long, and which way through the pages. */
export function Readings({ readings, pages, withMessage = false }: Props) {
  const now = useNow();
  const [all, setAll] = useState(false);
  const shown = all ? readings : readings.slice(0, READINGS_SHOWN);
  return (
    <>
      <ul className={styles.readings} aria-label="Readings, newest first">
        {shown.map((reading) => (
          <li key={reading.id} className={reading.counted ? '' : 'soft'}>
            <p>
              <b>{personText(reading.recipient)}</b> <When at={reading.startedAt} />
              {withMessage && (
                <>
                  {' · '}
                  <Link to={`/sent/${reading.messageId}`}>{reading.subject || 'a message without subject'}</Link>
                </>
              )}
            </p>
            <p className={pageNow(reading, now) === null ? '' : 'tone-now'}>{readingText(reading, pages, now)}</p>
            <p className="soft">{readingContext(reading)}</p>
            {pages !== null && pages > 1 && reading.visits.length > 1 && <PagePath reading={reading} pages={pages} />}
          </li>
        ))}
      </ul>
      {readings.length > shown.length && (
        <Button type="link" onClick={() => setAll(true)}>
          {`Show the other ${readings.length - shown.length}`}
        </Button>
      )}
    </>
  );
}
