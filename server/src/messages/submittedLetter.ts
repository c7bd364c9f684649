import type { WritingDefaults } from '@kiraku/core/contract';
import { fileWords, inAscii, titleOf, withFileBlocks } from '@kiraku/core/files';
import { disclosureOf, htmlProblem, OPT_OUT_PLACE } from '@kiraku/core/message';
import { hasAsciiOctets, planLetter, planOctets, weave, type LetterPlan } from '@kiraku/core/tracking';
import { decodePart, encodePart, textOfPart } from '../mime/encoding.js';
import { isTextPart, joinMail, type SplitMail, type TextPart } from '../mime/split.js';
import type { CarriedFile } from '../files/files.service.js';
import { newPlace, placesOf, urlsWith, type CopyLetter, type CopyThreads, type Places } from './copyLetter.js';

/** What of a handed-in mail is to be tracked. */
export type SubmittedTracking = Pick<
  WritingDefaults,
  'trackOpens' | 'trackLinks' | 'disclose' | 'deliveryReceipt' | 'readReceipt'
>;

/** A part of HTML with its place in the numbering of the whole mail's links. */
interface HtmlPart {
  part: TextPart;
  plan: LetterPlan;
  disclosedPlan: LetterPlan;
  firstLink: number;
  /** How many it has of its own. */
  ownLinks: number;
}

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
  files: readonly CarriedFile[] = [],
): CopyLetter {
  const foot = disclosureOf(disclosure);
  const place = newPlace();
  const shown = whyUntracked(mail) === null ? mail.pieces.filter(isTextPart).filter(isWeavable) : [];
  const links: CopyLetter['links'] = [];
  const blocks = inAscii(withFileBlocks('', files, ({ fileId }) => place + fileId));
  const parts = shown.map((part, index): HtmlPart => {
    const written = decodePart(part).toString('latin1');
    const octets = index === 0 ? withFoot(written, blocks) : written;
    const firstLink = links.length;
    for (const { position, text, url } of planLetter(textOfPart(part)!).links)
      links.push({ position: firstLink + position, text, url });
    return {
      part,
      plan: planOctets(octets, part.charset),
      disclosedPlan: planOctets(withFoot(octets, foot.html), part.charset),
      firstLink,
      ownLinks: links.length - firstLink,
    };
  });
  return {
    messageIdHeader,
    links,
    tracked: links.map(() => tracking.trackLinks),
    files,
    trackOpens: tracking.trackOpens && parts.length > 0,
    disclose: tracking.disclose && parts.length > 0,
    deliveryReceipt: tracking.deliveryReceipt,
    readReceipt: tracking.readReceipt,
    make: (threads) => {
      const places = placesOf(files, place, threads.fileUrls);
      return Promise.resolve(woven(mail, parts, threads, places, filesAsText(files, threads.fileUrls)));
    },
  };
}

function woven(
  mail: SplitMail,
  parts: HtmlPart[],
  { imageUrl, linkUrls, optOutUrl }: CopyThreads,
  places: Places,
  filesText: string,
): Buffer {
  const replaced = new Map<TextPart, Buffer>();
  const plain = mail.pieces.filter(isTextPart).find((part) => part.mediaType === 'text/plain');
  if (filesText !== '' && plain && hasAsciiOctets(plain.charset))
    replaced.set(plain, encodePart(plain, Buffer.concat([decodePart(plain), Buffer.from(filesText, 'latin1')])));
  parts.forEach(({ part, plan, disclosedPlan, firstLink, ownLinks }, index) => {
    // One image is enough, and one disclosure.
    const first = index === 0;
    const own = linkUrls.slice(firstLink, firstLink + ownLinks);
    const image = first ? imageUrl : null;
    const isChanged = first && (optOutUrl !== null || places.size > 0);
    if (own.every((url) => url === null) && image === null && !isChanged) return;
    const html =
      first && optOutUrl
        ? weave(disclosedPlan, { imageUrl: image, linkUrls: urlsWith(disclosedPlan, own, places, optOutUrl) })
        : weave(plan, { imageUrl: image, linkUrls: urlsWith(plan, own, places, null) });
    replaced.set(part, encodePart(part, Buffer.from(html, 'latin1')));
  });
  return joinMail(mail, replaced);
}

/** The same for those who read plain text, in ASCII, so that it fits any charset. */
function filesAsText(files: readonly CarriedFile[], fileUrls: ReadonlyMap<number, string>): string {
  const lines = files.flatMap(({ fileId, name, version }) => {
    const url = fileUrls.get(fileId);
    return url === undefined ? [] : [`${titleOf(name)} (${fileWords(version)}):\r\n${url}`];
  });
  const text = lines.map((line) => `\r\n\r\n${line}`).join('');
  return text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\0-\x7f]/gu, '?');
}

/** The octets and the decoded text must tell of the same links, or a link could lead to another's target. */
function isWeavable(part: TextPart): boolean {
  if (part.mediaType !== 'text/html' || !hasAsciiOctets(part.charset)) return false;
  const text = textOfPart(part);
  if (text === undefined || text.includes(OPT_OUT_PLACE) || htmlProblem(text) !== null) return false;
  const octets = decodePart(part).toString('latin1');
  return planOctets(octets, part.charset).links.length === planLetter(text).links.length;
}

/** The letter with a line at its end, within its body. */
function withFoot(octets: string, foot: string): string {
  const end = octets.search(/<\/body\s*>(?![\s\S]*<\/body)/i);
  return end === -1 ? octets + foot : octets.slice(0, end) + foot + octets.slice(end);
}
