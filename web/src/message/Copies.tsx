import { Button } from 'antd';
import { useState } from 'react';
import type { CopyView } from '@kiraku/core/contract';
import { deviceWords, personWords } from '@kiraku/core/tracking';
import { Link } from 'react-router';
import { RetryCopy } from '../outbox/RetryCopy.js';
import { useNow } from '../app/useNow.js';
import { copyWords, receiptWords } from './copyWords.js';

const MOST_SHOWN = 6;
const LIKELIHOODS = { perhaps: 'Perhaps', likely: 'Likely' };
const KINDS = { to: '', cc: 'Cc', bcc: 'Bcc' };

/** Who of several recipients did what: each has a copy of their own. */
export function Copies({ messageId, copies }: { messageId: number; copies: CopyView[] }) {
  const now = useNow();
  const [all, setAll] = useState(false);
  const shown = all ? copies : [...copies].sort(byHappening).slice(0, MOST_SHOWN);
  return (
    <section aria-label="Recipients">
      <h2>Who</h2>
      <ul className="lines">
        {shown.map((copy) => (
          <li key={copy.id}>
            <span className="line-name">
              <Link to={`/people/${copy.personId}`} className="plain-link">
                {personWords(copy.recipient)}
              </Link>{' '}
              <span className="soft">{KINDS[copy.recipient.kind]}</span>
            </span>
            <span className={copy.state === 'failed' ? 'tone-needs-you' : 'soft'}>{copyWords(copy, now)}</span>
            {[...receiptWords(copy), ...readersWords(copy)].map((words) => (
              <span key={words} className="line-more soft">
                {words}
              </span>
            ))}
            {copy.state === 'sent' && copy.trouble !== null && (
              <span className="line-more tone-needs-you">{copy.trouble}</span>
            )}
            {copy.state === 'failed' && (
              <RetryCopy copyId={copy.id} messageId={messageId} address={copy.recipient.address} state={copy.state} />
            )}
          </li>
        ))}
      </ul>
      {shown.length < copies.length && (
        <Button type="link" onClick={() => setAll(true)}>
          Show all {copies.length}
        </Button>
      )}
    </section>
  );
}

/** Who did something last stands first; the others as they were addressed. */
function byHappening(a: CopyView, b: CopyView): number {
  return (b.tally.lastEventAt ?? 0) - (a.tally.lastEventAt ?? 0);
}

/** Who reads it, where that is more than one, and whether it may have gone on. */
function readersWords({ readers, passedOn }: CopyView): string[] {
  const words = readers.map((reader) => [deviceWords(reader), ...reader.places].filter(Boolean).join(', '));
  return [
    ...(readers.length > 1 ? [`Seems to be read on ${words.join('; ')}.`] : []),
    ...(passedOn ? [`${LIKELIHOODS[passedOn.likelihood]} passed on: ${passedOn.reason}.`] : []),
  ];
}
