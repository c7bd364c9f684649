import { OPT_OUT_PLACE } from '@kiraku/core/message';
import type { InstrumentPlan, WebLink } from '@kiraku/core/tracking';
import type { CarriedFile } from '../files/files.service.js';
import type { MailBytes } from '../delivery/mailBytes.js';
import type { SubmittedEnvelope } from '@kiraku/core/delivery';
import { newToken } from '../tracking/tokens.js';

/** The image and links of one copy. */
export interface CopyTrackingUrls {
  /** With angle brackets (RFC 5322, section 3.6.4). */
  messageIdHeader: string;
  imageUrl: string | null;
  /** By the link's position; null for a link that is left alone. */
  linkUrls: (string | null)[];
  /** Where each file that travels as a link is shown, by its number. */
  fileUrls: ReadonlyMap<number, string>;
  /** Where its recipient can decline tracking; null where nothing is disclosed, or nothing tracked. */
  optOutUrl: string | null;
  /** Whether blind copies are named: in what only its sender keeps. */
  namesBcc?: boolean;
}

/** What all copies of a message share, and how one of them is made. */
export interface OutgoingMessage {
  /** The Message-ID that all copies have; null where each gets its own. */
  messageIdHeader: string | null;
  links: Pick<WebLink, 'position' | 'text' | 'url'>[];
  /** For each link, whether it is tracked. */
  tracked: boolean[];
  /** What travels with it. */
  files: readonly CarriedFile[];
  trackOpens: boolean;
  disclose: boolean;
  /** Whether it is one of many alike: a way to opt out is offered then to whom nothing is tracked, too. */
  isOfRound: boolean;
  requestDsn: boolean;
  requestMdn: boolean;
  /** What all copies share, where they refer to it. */
  shared: Buffer | null;
  /** With what it was submitted (RFC 5321, section 2.3.1); null for what was written here. */
  envelope: SubmittedEnvelope | null;
  /** The mail of one copy as it will leave. */
  make(trackingUrls: CopyTrackingUrls): Promise<MailBytes>;
}

/** What stands at the place of each link of a message, besides the message’s own: by the address that keeps the place. */
export type Places = ReadonlyMap<string, string>;

/** The addresses for the links of a message: those that keep a place for something of ours give way to it. */
export function urlsWith(
  { links }: InstrumentPlan,
  linkUrls: readonly (string | null)[],
  places: Places,
  optOutUrl: string | null,
): (string | null)[] {
  const optOutAt = optOutUrl === null ? -1 : links.findLastIndex(({ url }) => url === OPT_OUT_PLACE);
  let next = 0;
  return links.map(({ url }, index) => {
    if (index === optOutAt) return optOutUrl;
    return places.get(url) ?? linkUrls[next++] ?? null;
  });
}

/** Nobody else’s address: what keeps a place in a message cannot stand in it already. */
export function newPlace(): string {
  return `https://${newToken()
    .toLowerCase()
    .replace(/[^a-z0-9]/g, '0')}.invalid/`;
}

/** What stands at the places of files, for a copy that has addresses for them. */
export function placesOf(
  files: readonly CarriedFile[],
  place: string,
  fileUrls: ReadonlyMap<number, string>,
): Map<string, string> {
  return new Map(
    files.flatMap(({ fileId }): [string, string][] => {
      const url = fileUrls.get(fileId);
      return url === undefined ? [] : [[place + fileId, url]];
    }),
  );
}
