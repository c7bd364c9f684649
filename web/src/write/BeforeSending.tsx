import { Button } from 'antd';
import { useMemo } from 'react';
import type { DraftContent } from '@kiraku/core/contract';
import { checkLetter, escapeHtml, fillPlaceholders, type Mend } from '@kiraku/core/message';
import { useSessionQuery } from '../session/sessionApi.js';
import { useKnown } from './useKnown.js';
import { linksOf, textOf, withLink } from './linksOf.js';

interface Props {
  content: DraftContent;
  blankHtml: string;
  onChange(part: Partial<DraftContent>): void;
}

/** Until something is written there is nothing to advise on. */
const isBegun = ({ recipients, subject, html }: DraftContent, blankHtml: string) =>
  html !== blankHtml || (subject !== '' && recipients.length > 0);

/** What should be thought of before the letter goes, each with its mend where there is one. Nothing here forbids. */
export function BeforeSending({ content, blankHtml, onChange }: Props) {
  const known = useKnown(content);
  const { data: session } = useSessionQuery(null);
  const publicUrl = session?.publicUrl;
  const advice = useMemo(() => {
    if (!publicUrl || !isBegun(content, blankHtml)) return [];
    const { recipients, subject, html, trackLinks, files } = content;
    const text = textOf(html);
    const htmlBytes = new TextEncoder().encode(html).length;
    const pictures = (html.match(/<img /g) ?? []).length;
    const links = linksOf(html);
    return checkLetter({
      recipients,
      subject,
      text,
      htmlBytes,
      links,
      pictures,
      files: files.length,
      known,
      tracked: trackLinks,
      publicUrl,
    });
  }, [content, blankHtml, known, publicUrl]);
  if (advice.length === 0) return null;

  function mend(fix: Mend): void {
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
      <ul className="advice">
        {advice.map(({ rule, words, mend: fix }, index) => (
          <li key={`${rule} ${index}`}>
            <span className="tone-needs-you">{words}</span>
            {fix && (
              <Button type="link" size="small" onClick={() => mend(fix)}>
                {mendWords(fix)}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function mendWords(fix: Mend): string {
  if (fix.kind === 'secure-link') return 'Use https';
  return fix.kind === 'fill' ? `Write “${fix.words}”` : `Call it “${fix.words}”`;
}
