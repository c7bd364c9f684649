import { Button } from 'antd';
import { useMemo } from 'react';
import type { DraftContent } from '@kiraku/core/contract';
import { checkMessage, escapeHtml, fillPlaceholders, replaceRecipient, type Fix } from '@kiraku/core/message';
import { useSessionQuery } from '../shared/api/sessionApi.js';
import { useDirectory, useKnown } from '../shared/hooks/useKnown.js';
import { textOf } from '../shared/editor/textOf.js';
import { linksOf, withLink } from './linksOf.js';
import styles from './write.module.css';

interface Props {
  content: DraftContent;
  blankHtml: string;
  onChange(part: Partial<DraftContent>): void;
}

/** Until something is written there is nothing to advise on. */
const isBegun = ({ recipients, subject, html }: DraftContent, blankHtml: string) =>
  html !== blankHtml || (subject !== '' && recipients.length > 0);

/** What should be thought of before the message goes, each with its mend where there is one. Nothing here forbids. */
export function BeforeSending({ content, blankHtml, onChange }: Props) {
  const known = useKnown(content);
  const directory = useDirectory(content.recipients);
  const { data: session } = useSessionQuery(null);
  const publicUrl = session?.publicUrl;
  const advice = useMemo(() => {
    if (!publicUrl || !isBegun(content, blankHtml)) return [];
    const { recipients, subject, html, trackClicks, files } = content;
    const text = textOf(html);
    const htmlBytes = new TextEncoder().encode(html).length;
    const pictures = (html.match(/<img /g) ?? []).length;
    const links = linksOf(html);
    return checkMessage({
      recipients,
      directory,
      subject,
      text,
      htmlBytes,
      links,
      pictures,
      files: files.length,
      known,
      tracked: trackClicks,
      publicUrl,
    });
  }, [content, blankHtml, known, directory, publicUrl]);
  if (advice.length === 0) return null;

  function apply(fix: Fix): void {
    if (fix.kind === 'address') {
      const { name = '' } = content.recipients.find(({ address }) => address === fix.address) ?? {};
      return onChange({ recipients: replaceRecipient(content.recipients, fix.address, { name, address: fix.words }) });
    }
    if (fix.kind === 'fill')
      return onChange({
        subject: fillPlaceholders(content.subject, known),
        html: fillPlaceholders(content.html, known, escapeHtml),
      });
    onChange({
      html: withLink(content.html, fix.link, fix.kind === 'name-link' ? { words: fix.words } : { url: fix.url }),
    });
  }
  return (
    <section aria-label="Before you send">
      <h2>Before you send</h2>
      <ul className={styles.advice}>
        {advice.map(({ rule, words, fix }, index) => (
          <li key={`${rule} ${index}`}>
            <span className="tone-needs-you">{words}</span>
            {fix && (
              <Button type="link" size="small" onClick={() => apply(fix)}>
                {fixLabel(fix)}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function fixLabel(fix: Fix): string {
  if (fix.kind === 'secure-link') return 'Use https';
  if (fix.kind === 'address') return `Send it to ${fix.words}`;
  return fix.kind === 'fill' ? `Write “${fix.words}”` : `Name it “${fix.words}”`;
}
