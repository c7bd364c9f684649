import { useCallback, useState } from 'react';
import type { LinkView, MessageDetail, MessageSummary, Recipient, SentFile } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { isHappening, personWords, times } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import { useLetterFrame } from './useLetterFrame.js';

/** Labels nearer than this would overlap. */
const LABEL_HEIGHT = 19;
/** Links whose tops differ by less stand on one line. */
const SAME_LINE = 8;

/** A link or a file of the letter, with what is said beside it. */
interface Told {
  key: string;
  name: string;
  /** As the letter has it. */
  href: string;
  words: string;
  count: number;
  lastAt: number | null;
}

/** What is said beside one line of the letter. */
interface Placed {
  links: Told[];
  top: number;
}

/** The letter as it was written, with the counts beside the very links. */
export function LetterSheet({ detail: { summary, sender, links, files, removedFields } }: { detail: MessageDetail }) {
  const [placed, setPlaced] = useState<Placed[]>([]);
  const place = useCallback(
    (document: Document) => setPlaced(placeLabels(document, [...links.map(linkTold), ...files.map(fileTold)])),
    [links, files],
  );
  const { frame, height, onLoad } = useLetterFrame(120, place);

  return (
    <article className="sheet" aria-label="Letter">
      <header className="letter-head">
        <h2>{summary.subject || 'No subject'}</h2>
        <p className="soft">
          {addressing(summary.recipients)} · {timeWords(summary)} · {personWords(sender)}
        </p>
        {removedFields.length > 0 && (
          <p className="soft">
            Your mail app had signed it, and tracking changes it: {removedFields.join(', ')} no longer fitted and did
            not leave.
          </p>
        )}
      </header>
      <div className="letter-body">
        {/* Nothing in it runs: no scripts in the sandbox, none in its policy. Same origin, so that links can be measured. */}
        <iframe
          ref={frame}
          title="The letter’s text"
          src={`/api/messages/${summary.id}/letter`}
          sandbox="allow-same-origin allow-popups allow-popups-to-escape-sandbox"
          style={{ height }}
          onLoad={onLoad}
        />
        <ul className="letter-counts" aria-label="Links and files of the letter">
          {placed.map(({ links: line, top }) => (
            <li key={top} style={{ top }}>
              {line.map((link, index) => (
                <LinkCount key={link.key} link={link} after={line[index - 1]} />
              ))}
            </li>
          ))}
        </ul>
      </div>
    </article>
  );
}

/** Says of a link what its neighbour on the same line does not say already. */
function LinkCount({ link, after }: { link: Told; after: Told | undefined }) {
  const now = useNow();
  const recent = link.lastAt !== null && isHappening(link.lastAt, now);
  const same = after?.words === link.words;
  return (
    <span className={`letter-count ${recent ? 'tone-now' : link.count > 0 ? '' : 'soft'}`} title={link.href}>
      <span className="skip">{link.name}: </span>
      <span className={same ? 'skip' : ''}>{link.words}</span>
    </span>
  );
}

function linkTold({ id, text, url, tracked, clicks, lastClickAt }: LinkView): Told {
  const followed = clicks === 0 ? 'not followed' : times('followed', clicks);
  const words = tracked ? followed : 'not tracked';
  return { key: `link ${id}`, name: text, href: url, words, count: clicks, lastAt: lastClickAt };
}

function fileTold({ id, fileId, name, views, lastViewAt }: SentFile): Told {
  const words = views === 0 ? 'not viewed' : times('viewed', views);
  return { key: `file ${id}`, name, href: `/files/${fileId}`, words, count: views, lastAt: lastViewAt };
}

function timeWords({ sentAt, sendAt, queuedAt }: MessageSummary): string {
  if (sendAt !== null) return `leaves ${exactWords(sendAt)}`;
  return `sent ${exactWords(sentAt ?? queuedAt)}`;
}

/** The rest stands under “Who”. */
const MOST_NAMES = 5;

function namesWords(names: string[]): string {
  const more = names.length - MOST_NAMES;
  return more > 0 ? `${names.slice(0, MOST_NAMES).join(', ')} and ${more} more` : names.join(', ');
}

function addressing(recipients: Recipient[]): string {
  const named = (kind: Recipient['kind']) => namesWords(recipients.filter((one) => one.kind === kind).map(personWords));
  return [`To ${named('to')}`, named('cc') && `Cc ${named('cc')}`, named('bcc') && `Bcc ${named('bcc')}`]
    .filter(Boolean)
    .join(' · ');
}

/** Each label beside the line of its links; one that would overlap the one above moves down. */
function placeLabels(document: Document, told: Told[]): Placed[] {
  const anchors = [...document.querySelectorAll<HTMLElement>('a[href], area[href]')];
  const lines: Placed[] = [];
  const used = new Set<number>();
  for (const link of told) {
    // What the desk does not show of a letter (maps, say) has links too: the anchor is the next with this address.
    const found = anchors.findIndex(
      (anchor, at) =>
        !used.has(at) &&
        (anchor.getAttribute('href') === link.href || (anchor as HTMLAnchorElement).href === link.href),
    );
    used.add(found);
    const rects = anchors[found]?.getClientRects();
    const top = rects?.[rects.length - 1]?.top;
    if (top === undefined) continue;
    const line = lines.find((one) => Math.abs(top - one.top) < SAME_LINE);
    if (line) line.links.push(link);
    else lines.push({ links: [link], top });
  }
  let free = 0;
  return lines
    .sort((a, b) => a.top - b.top)
    .map((line) => {
      const top = Math.max(line.top, free);
      free = top + LABEL_HEIGHT * new Set(line.links.map(({ words }) => words)).size;
      return { ...line, top };
    });
}
