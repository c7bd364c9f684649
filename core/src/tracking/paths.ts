/** What the public site responds to: a short, neutral path and a token, and nothing about the recipient. */
export type PublicTarget = { kind: PublicKind; token: string };
export type PublicKind = 'image' | 'link' | 'optOut' | 'ownBrowser' | 'calendar' | FilePart | 'viewerPart';
/** A tracked file: the page that shows it, its bytes, a picture of its first page, the bytes to download, and where reports of its reading go. */
export type FilePart = 'file' | 'fileContent' | 'fileFirstPage' | 'fileDownload' | 'fileReading';

/** 128 random bits in base64url (RFC 4648, section 5). */
export const TOKEN_BYTES = 16;
const TOKEN = '([A-Za-z0-9_-]{22})';
const PATHS: [PublicTarget['kind'], RegExp][] = [
  ['image', new RegExp(`^/i/${TOKEN}\\.gif$`)],
  ['link', new RegExp(`^/l/${TOKEN}$`)],
  ['optOut', new RegExp(`^/o/${TOKEN}$`)],
  ['ownBrowser', new RegExp(`^/m/${TOKEN}$`)],
  ['calendar', new RegExp(`^/c/${TOKEN}\\.ics$`)],
  ['file', new RegExp(`^/f/${TOKEN}$`)],
  ['fileContent', new RegExp(`^/f/${TOKEN}/content$`)],
  ['fileFirstPage', new RegExp(`^/f/${TOKEN}/first$`)],
  ['fileDownload', new RegExp(`^/f/${TOKEN}/download$`)],
  ['fileReading', new RegExp(`^/f/${TOKEN}/reading$`)],
  // What the page is made of that shows a file; its token is a name.
  ['viewerPart', /^\/v\/((?:[\w-]+\/){0,3}[\w-][\w.-]{0,100})$/],
];

export function imagePath(token: string): string {
  return `/i/${token}.gif`;
}

export function linkPath(token: string): string {
  return `/l/${token}`;
}

/** Where a tracked file is shown; its parts lie below. */
export function filePath(token: string): string {
  return `/f/${token}`;
}

/** Where the recipient of a copy, named by its image's token, can decline tracking. */
export function optOutPath(token: string): string {
  return `/o/${token}`;
}

/** Where the sender’s own browser gets its mark. */
export function ownBrowserPath(token: string): string {
  return `/m/${token}`;
}

/** Where the sender's calendar is, for programs that cannot reach the desk. */
export function calendarPath(token: string): string {
  return `/c/${token}.ics`;
}

/** Reads a request's path (without query); null for anything that is not a well-formed public address. */
export function parsePublicPath(path: string): PublicTarget | null {
  for (const [kind, pattern] of PATHS) {
    const match = pattern.exec(path);
    if (match) return { kind, token: match[1]! };
  }
  return null;
}
