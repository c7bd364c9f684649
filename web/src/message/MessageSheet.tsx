import { useCallback, useState } from 'react';
import { addressingText, linkText, personText, sentFileText, sentTimeText } from '@kiraku/core/sentences';
import type { LinkView, MessageDetail, SentFile } from '@kiraku/core/contract';
import { isNow } from '@kiraku/core/tracking';
import { useNow } from '../shared/hooks/useNow.js';
import { useBodyFrame } from './useBodyFrame.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './message.module.css';

/** Labels nearer than this would overlap. */
const LABEL_HEIGHT = 19;
/** Links whose tops differ by less stand on one line. */
const SAME_LINE = 8;

/** A link or a file of the message, with what is said beside it. */
interface Placeable {
  key: string;
  name: string;
  /** As the message has it. */
  href: string;
  words: string;
  count: number;
  lastAt: number | null;
}

/** What is said beside one line of the message. */
interface Placed {
  links: Placeable[];
  top: number;
}

/** The message as it was written, with the counts beside the very links. */
export function MessageSheet({
  detail: { summary, sender, links, files, removedFields },
  onShown,
}: {
  detail: MessageDetail;
  /** Its text has been laid out. */
  onShown(): void;
}) {
  const [placed, setPlaced] = useState<Placed[]>([]);
  const place = useCallback(
    (document: Document) => setPlaced(placeLabels(document, [...links.map(linkLabel), ...files.map(fileLabel)])),
    [links, files],
  );
  const { frame, height, onLoad } = useBodyFrame(120, place);

  return (
    <article className={pageStyles.sheet} aria-label="Message">
      <header className={styles.head}>
        <h2>{summary.subject || 'No subject'}</h2>
        <p className="soft">
          {addressingText(summary.recipients)} · {sentTimeText(summary)} · {personText(sender)}
        </p>
        {removedFields.length > 0 && (
          <p className="soft">
            Your mail app had signed it, and tracking changes it: {removedFields.join(', ')} no longer fitted and did
            not leave.
          </p>
        )}
      </header>
      <div className={styles.body}>
        {/* Nothing in it runs: no scripts in the sandbox, none in its policy. Same origin, so that links can be measured. */}
        <iframe
          ref={frame}
          title="Message text"
          src={`/api/messages/${summary.id}/body`}
          sandbox="allow-same-origin allow-popups allow-popups-to-escape-sandbox"
          style={{ height }}
          onLoad={() => {
            onLoad();
            onShown();
          }}
        />
        <ul className={styles.counts} aria-label="Links and files in the message">
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
function LinkCount({ link, after }: { link: Placeable; after: Placeable | undefined }) {
  const now = useNow();
  const recent = link.lastAt !== null && isNow(link.lastAt, now);
  const same = after?.words === link.words;
  return (
    <span className={`${styles.count} ${recent ? 'tone-now' : link.count > 0 ? '' : 'soft'}`} title={link.href}>
      <span className="skip">{link.name}: </span>
      <span className={same ? 'skip' : ''}>{link.words}</span>
    </span>
  );
}

function linkLabel(link: LinkView): Placeable {
  const { id, text, url, clicks, lastClickAt } = link;
  return { key: `link ${id}`, name: text, href: url, words: linkText(link), count: clicks, lastAt: lastClickAt };
}

function fileLabel(file: SentFile): Placeable {
  const { id, fileId, name, views, lastViewAt } = file;
  return {
    key: `file ${id}`,
    name,
    href: `/files/${fileId}`,
    words: sentFileText(file),
    count: views,
    lastAt: lastViewAt,
  };
}

/** Each label beside the line of its links; one that would overlap the one above moves down. */
function placeLabels(document: Document, shown: Placeable[]): Placed[] {
  const anchors = [...document.querySelectorAll<HTMLElement>('a[href], area[href]')];
  const lines: Placed[] = [];
  const used = new Set<number>();
  for (const link of shown) {
    // What the desk does not show of a message (maps, say) has links too: the anchor is the next with this address.
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
