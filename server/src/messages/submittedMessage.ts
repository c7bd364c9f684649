import type { WritingDefaults } from '@kiraku/core/contract';
import { fileWords, inAscii, titleOf, withFileBlocks } from '@kiraku/core/files';
import { disclosureOf, htmlProblem, OPT_OUT_PLACE } from '@kiraku/core/message';
import {
  attributeValue,
  hasAsciiOctets,
  planInstrumenting,
  planOctets,
  instrument,
  type InstrumentPlan,
} from '@kiraku/core/tracking';
import { charsetOf, decoderOf, withEncodedQuery } from '../mime/charset.js';
import { decodePart, encodePart, isKnownEncoding, textOfPart } from '../mime/encoding.js';
import { isTextPart, joinMail, runsOf, type Replacement, type SplitMail, type TextPart } from '../mime/split.js';
import type { Piece, SubmittedEnvelope } from '@kiraku/core/delivery';
import type { MailBytes } from '../delivery/mailBytes.js';
import type { CarriedFile } from '../files/files.service.js';
import {
  newPlace,
  placesOf,
  urlsWith,
  type OutgoingMessage,
  type CopyTrackingUrls,
  type Places,
} from './outgoingMessage.js';

/** What of a submitted mail is to be tracked. */
export type SubmittedTracking = Pick<
  WritingDefaults,
  'trackOpens' | 'trackClicks' | 'disclose' | 'requestDsn' | 'requestMdn'
>;

/** A part of HTML with its place in the numbering of the whole mail's links. */
interface HtmlPart {
  part: TextPart;
  plan: InstrumentPlan;
  disclosedPlan: InstrumentPlan;
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
  const unknown = html.find(({ encoding }) => !isKnownEncoding(encoding));
  if (unknown) return `its HTML part is encoded as “${unknown.encoding}”, which is not known here`;
  if (html.every((part) => !canInstrument(part)))
    return 'its HTML part is written in a way that cannot be changed safely';
  return null;
}

/** A longer address is left as it is. */
const MAX_TARGET_CHARS = 16_000;

/**
 * A mail that a program submitted: only the text of its HTML parts differs from copy to copy.
 *
 * @param mail as it is kept: what copies share, they refer to in it
 */
export function submittedMessage(
  mail: SplitMail,
  messageIdHeader: string,
  tracking: SubmittedTracking,
  disclosure: string,
  envelope: SubmittedEnvelope,
  files: readonly CarriedFile[] = [],
): OutgoingMessage {
  const foot = disclosureOf(disclosure);
  const place = newPlace();
  const shown = whyUntracked(mail) === null ? mail.pieces.filter(isTextPart).filter(canInstrument) : [];
  const links: OutgoingMessage['links'] = [];
  const blocks = inAscii(withFileBlocks('', files, ({ fileId }) => place + fileId));
  const parts = shown.map((part, index): HtmlPart => {
    const content = decodePart(part);
    const charset = charsetOf(part, content);
    const written = content.toString('latin1');
    const octets = index === 0 ? withFoot(written, blocks) : written;
    const firstLink = links.length;
    for (const link of linksOf(written, charset)) links.push({ ...link, position: firstLink + link.position });
    return {
      part,
      plan: planOf(octets, charset),
      disclosedPlan: planOf(withFoot(octets, foot.html), charset),
      firstLink,
      ownLinks: links.length - firstLink,
    };
  });
  return {
    messageIdHeader,
    links,
    tracked: links.map(({ url }) => tracking.trackClicks && url.length <= MAX_TARGET_CHARS),
    files,
    trackOpens: tracking.trackOpens && parts.length > 0,
    disclose: tracking.disclose && parts.length > 0,
    isOfRound: false,
    requestDsn: tracking.requestDsn,
    requestMdn: tracking.requestMdn,
    shared: joinMail(mail),
    envelope,
    make: (trackingUrls) => {
      const places = placesOf(files, place, trackingUrls.fileUrls);
      return Promise.resolve(
        instrumented(mail, parts, trackingUrls, places, filesAsText(files, trackingUrls.fileUrls)),
      );
    },
  };
}

/** What is found in a part’s octets, each address read in its charset. */
function planOf(octets: string, charset: string): InstrumentPlan {
  const decoder = decoderOf(charset)!;
  return planOctets(octets, charset, (written) =>
    withEncodedQuery(attributeValue(decoder.decode(Buffer.from(written, 'latin1'))), charset),
  );
}

/** A part’s links: their addresses by its octets, their words as they read where both tell of the same links. */
function linksOf(octets: string, charset: string): OutgoingMessage['links'] {
  const decoder = decoderOf(charset)!;
  const found = planOf(octets, charset).links;
  const decode = (text: string) => decoder.decode(Buffer.from(text, 'latin1'));
  const read = planInstrumenting(decode(octets)).links;
  const isSame = read.length === found.length;
  return found.map(({ position, text, url }, index) => ({
    position,
    url,
    text: isSame ? read[index]!.text : decode(text),
  }));
}

function instrumented(
  mail: SplitMail,
  parts: HtmlPart[],
  { imageUrl, linkUrls, optOutUrl }: CopyTrackingUrls,
  places: Places,
  filesText: string,
): MailBytes {
  const replaced = new Map<TextPart, Replacement>();
  const plain = mail.pieces.filter(isTextPart).find((part) => part.mediaType === 'text/plain');
  if (
    filesText !== '' &&
    plain &&
    isKnownEncoding(plain.encoding) &&
    hasAsciiOctets(charsetOf(plain, decodePart(plain)))
  )
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
        ? instrument(disclosedPlan, { imageUrl: image, linkUrls: urlsWith(disclosedPlan, own, places, optOutUrl) })
        : instrument(plan, { imageUrl: image, linkUrls: urlsWith(plan, own, places, null) });
    replaced.set(part, encodePart(part, Buffer.from(html, 'latin1')));
  });
  return mailBytes(mail, replaced);
}

/** The mail by what it shares with the others, and what is its own. */
function mailBytes(mail: SplitMail, replaced: ReadonlyMap<TextPart, Replacement>): MailBytes {
  const own: Buffer[] = [];
  const pieces: Piece[] = [];
  let ownLength = 0;
  let sharedAt = 0;
  const originals = runsOf(mail, new Map());
  runsOf(mail, replaced).forEach(({ bytes, isChanged }, index) => {
    const { length } = originals[index]!.bytes;
    if (isChanged) own.push(bytes);
    pieces.push(isChanged ? ['own', ownLength, (ownLength += bytes.length)] : ['shared', sharedAt, sharedAt + length]);
    sharedAt += length;
  });
  return { own: Buffer.concat(own), pieces };
}

/** Fields of a signature over the whole mail (RFC 6376), which no longer fits once the mail is changed. */
export const SIGNATURE_FIELDS = ['DKIM-Signature', 'ARC-Seal', 'ARC-Message-Signature', 'ARC-Authentication-Results'];

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

/** Whether a part can be changed, and nothing else of it be touched. */
function canInstrument(part: TextPart): boolean {
  if (part.mediaType !== 'text/html') return false;
  const text = textOfPart(part);
  if (text === undefined || !hasAsciiOctets(charsetOf(part, decodePart(part)))) return false;
  return !text.includes(OPT_OUT_PLACE) && htmlProblem(text) === null;
}

/** The message with a line at its end, within its body. */
function withFoot(octets: string, foot: string): string {
  const end = octets.search(/<\/body\s*>(?![\s\S]*<\/body)/i);
  return end === -1 ? octets + foot : octets.slice(0, end) + foot + octets.slice(end);
}
