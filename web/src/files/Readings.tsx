import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { FileReading } from '@kiraku/core/contract';
import { pageNow, readingWords } from '@kiraku/core/files';
import { deviceWords, personWords, reasonWords } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import { When } from '../ui/When.js';
import { PagePath } from './PagePath.js';

const AT_FIRST = 6;

interface Props {
  readings: readonly FileReading[];
  pages: number | null;
  /** Whether it is said which letter each came from. */
  withLetter?: boolean;
}

/** Who read it, each time: how much, for how long, and which way through the pages. */
export function Readings({ readings, pages, withLetter = false }: Props) {
  const now = useNow();
  const [all, setAll] = useState(false);
  const shown = all ? readings : readings.slice(0, AT_FIRST);
  return (
    <>
      <ul className="readings" aria-label="Readings, newest first">
        {shown.map((reading) => (
          <li key={reading.id} className={reading.counted ? '' : 'soft'}>
            <p>
              <b>{personWords(reading.recipient)}</b> <When at={reading.startedAt} />
              {withLetter && (
                <>
                  {' · '}
                  <Link to={`/sent/${reading.messageId}`}>{reading.subject || 'a message without subject'}</Link>
                </>
              )}
            </p>
            <p className={pageNow(reading, now) === null ? '' : 'tone-now'}>{readingWords(reading, pages, now)}</p>
            <p className="soft">{whereWords(reading)}</p>
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

function whereWords(reading: FileReading): string {
  const { place, givenAddress, counted, reason, recipient } = reading;
  const given = givenAddress !== null && givenAddress !== recipient.address ? `says to be ${givenAddress}` : '';
  const aside = counted ? '' : `set aside: ${reason === null ? '' : reasonWords(reason)}`;
  return [deviceWords(reading), place, given, aside].filter(Boolean).join(' · ');
}
