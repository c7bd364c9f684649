import { escapeHtml } from '@kiraku/core/message';
import {
  hasAsciiOctets,
  ownTargetsIn,
  parsePublicPath,
  readableOctets,
  removeInstrumenting,
  type PublicTarget,
} from '@kiraku/core/tracking';
import { charsetOf } from '../mime/charset.js';
import { decodePart, encodePart, textOfPart } from '../mime/encoding.js';
import { isTextPart, joinMail, splitMail, type Replacement, type SplitMail, type TextPart } from '../mime/split.js';
import { htmlProblem } from '@kiraku/core/message';

/** More of our addresses than this are in no mail. */
const MAX_OWN_TARGETS = 2000;

/** What is known of addresses of ours: their tokens, and where those of links lead. */
export interface KnownTracking {
  images: ReadonlySet<string>;
  links: ReadonlyMap<string, string>;
}

/**
 * A mail without tracking of ours that it quotes: another message’s image would count as its recipient’s opens, and its links as
 * their clicks. Images go, links lead where they led before, and nobody can decline for somebody else.
 *
 * @param known looks up what is ours
 */
export async function withoutOwnTracking(
  mail: SplitMail,
  known: (targets: readonly PublicTarget[]) => KnownTracking,
): Promise<SplitMail> {
  if (mail.protection !== null) return mail;
  const texts = mail.pieces.filter(isTextPart).map((part) => ({ part, text: textOfPart(part) ?? '' }));
  const targets = texts.flatMap(({ text }) => ownTargetsIn(text, MAX_OWN_TARGETS));
  if (targets.length === 0) return mail;
  const tracking = known(targets);
  if (tracking.images.size + tracking.links.size === 0) return mail;
  const replaced = new Map<TextPart, Replacement>();
  for (const { part, text } of texts) {
    const content = decodePart(part);
    const charset = charsetOf(part, content);
    if (!hasAsciiOctets(charset) || (part.mediaType === 'text/html' && htmlProblem(text) !== null)) continue;
    const octets = content.toString('latin1');
    const without =
      part.mediaType === 'text/html'
        ? removeInstrumenting(octets, asTracking(tracking), readableOctets(octets, charset))
        : plainWithout(octets, tracking);
    if (without !== octets) replaced.set(part, encodePart(part, Buffer.from(without, 'latin1')));
  }
  return replaced.size === 0 ? mail : splitMail(joinMail(mail, replaced));
}

function asTracking({ images, links }: KnownTracking) {
  return {
    isImage: (src: string) => {
      const target = targetOf(src);
      return target?.kind === 'image' && images.has(target.token);
    },
    originalOf: (href: string) => {
      const target = targetOf(href);
      if (target?.kind === 'optOut' && images.has(target.token)) return '#';
      const url = target?.kind === 'link' ? links.get(target.token) : undefined;
      return url === undefined ? undefined : escapeHtml(url);
    },
  };
}

function targetOf(address: string): PublicTarget | null {
  try {
    return parsePublicPath(new URL(address).pathname);
  } catch {
    return null;
  }
}

/** An address in plain text ends where a blank, a bracket or a quotation mark stands. */
const WEB_ADDRESS = /https?:\/\/[^\s<>"']+/g;

function plainWithout(text: string, { links }: KnownTracking): string {
  return text.replace(WEB_ADDRESS, (address) => {
    const target = targetOf(address);
    return (target?.kind === 'link' && links.get(target.token)) || address;
  });
}
