import type { WritingDefaults } from '@kiraku/core/contract';
import { disclosureOf, OPT_OUT_PLACE } from '@kiraku/core/message';
import { hasAsciiOctets, planLetter, planOctets, weave, type LetterPlan } from '@kiraku/core/tracking';
import { decodePart, encodePart, textOfPart } from '../mime/encoding.js';
import { isTextPart, joinMail, type SplitMail, type TextPart } from '../mime/split.js';
import { urlsWith, type CopyLetter, type CopyThreads } from './copyLetter.js';

/** What of a handed-in mail is to be tracked. */
export type SubmittedTracking = Pick<WritingDefaults, 'trackOpens' | 'trackLinks' | 'disclose' | 'deliveryReceipt'>;

/** A part of HTML with its place in the numbering of the whole mail's links. */
interface HtmlPart {
  part: TextPart;
  plan: LetterPlan;
  disclosedPlan: LetterPlan;
  firstLink: number;
}

const NO_PLACES = new Map<string, string>();

/** Why nothing of a mail can be tracked, in words for the sender; null where it can. */
export function whyUntracked({ protection, pieces }: SplitMail): string | null {
  if (protection === 'signed') return 'it is signed, and a change would break the signature';
  if (protection === 'encrypted') return 'it is encrypted';
  const html = pieces.filter(isTextPart).filter((part) => part.mediaType === 'text/html');
  if (html.length === 0) return 'it has no HTML part';
  if (html.every((part) => !isWeavable(part))) return 'its HTML part is written in a way that cannot be changed safely';
  return null;
}

/** A mail that a program handed in: only the text of its HTML parts differs from copy to copy. */
export function submittedLetter(
  mail: SplitMail,
  messageIdHeader: string,
  tracking: SubmittedTracking,
  disclosure: string,
): CopyLetter {
  const foot = disclosureOf(disclosure);
  const shown = whyUntracked(mail) === null ? mail.pieces.filter(isTextPart).filter(isWeavable) : [];
  const links: CopyLetter['links'] = [];
  const parts = shown.map((part): HtmlPart => {
    const octets = decodePart(part).toString('latin1');
    const firstLink = links.length;
    for (const { position, text, url } of planLetter(textOfPart(part)!).links)
      links.push({ position: firstLink + position, text, url });
    return {
      part,
      plan: planOctets(octets, part.charset),
      disclosedPlan: planOctets(withFoot(octets, foot.html), part.charset),
      firstLink,
    };
  });
  return {
    messageIdHeader,
    links,
    tracked: links.map(() => tracking.trackLinks),
    files: [],
    trackOpens: tracking.trackOpens && parts.length > 0,
    disclose: tracking.disclose && parts.length > 0,
    deliveryReceipt: tracking.deliveryReceipt,
    make: (threads) => Promise.resolve(woven(mail, parts, threads)),
  };
}

function woven(mail: SplitMail, parts: HtmlPart[], { imageUrl, linkUrls, optOutUrl }: CopyThreads): Buffer {
  const replaced = new Map<TextPart, Buffer>();
  parts.forEach(({ part, plan, disclosedPlan, firstLink }, index) => {
    // One image is enough, and one disclosure.
    const first = index === 0;
    const own = linkUrls.slice(firstLink, firstLink + plan.links.length);
    const image = first ? imageUrl : null;
    if (own.every((url) => url === null) && image === null && !(first && optOutUrl)) return;
    const html =
      first && optOutUrl
        ? weave(disclosedPlan, { imageUrl: image, linkUrls: urlsWith(disclosedPlan, own, NO_PLACES, optOutUrl) })
        : weave(plan, { imageUrl: image, linkUrls: own });
    replaced.set(part, encodePart(part, Buffer.from(html, 'latin1')));
  });
  return joinMail(mail, replaced);
}

/** The octets and the decoded text must tell of the same links, or a link could lead to another's target. */
function isWeavable(part: TextPart): boolean {
  if (part.mediaType !== 'text/html' || !hasAsciiOctets(part.charset)) return false;
  const text = textOfPart(part);
  if (text === undefined || text.includes(OPT_OUT_PLACE)) return false;
  const octets = decodePart(part).toString('latin1');
  return planOctets(octets, part.charset).links.length === planLetter(text).links.length;
}

/** The letter with a line at its end, within its body. */
function withFoot(octets: string, foot: string): string {
  const end = octets.search(/<\/body\s*>(?![\s\S]*<\/body)/i);
  return end === -1 ? octets + foot : octets.slice(0, end) + foot + octets.slice(end);
}
