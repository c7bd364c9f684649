import type { Recipient } from './mailbox.js';

/** How a file is shown to whoever gets it: page by page, after it was turned into pages, at once, or played. */
export const FILE_KINDS = ['pages', 'office', 'picture', 'video', 'audio', 'other'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/**
 * Whether a version can be read page by page: it is looked at, waits to be turned into pages, is being turned, can be
 * shown, or can only be downloaded.
 */
export const PREPARATIONS = ['checking', 'waiting', 'converting', 'ready', 'download-only'] as const;
export type Preparation = (typeof PREPARATIONS)[number];

/** One state of a file. Its bytes never change. */
export interface FileVersion {
  id: number;
  /** Counts up within its file, from 1. */
  number: number;
  /** In bytes. */
  size: number;
  /** By its content, not by its name. */
  mediaType: string;
  kind: FileKind;
  /** How many pages it has; null where it has none, or they are not known. */
  pages: number | null;
  preparation: Preparation;
  /** Why it cannot be shown, in words; null where it can. */
  problem: string | null;
  addedAt: number;
}

/** A file of the library. */
export interface FileView {
  id: number;
  /** With its extension. */
  name: string;
  addedAt: number;
  /** The newest first. */
  versions: FileVersion[];
  /** About how far the newest is turned into pages, in per cent; null where it is not being turned. */
  percent: number | null;
  /** How many messages carried it. */
  messages: number;
  /** Counted views over all of them. */
  views: number;
  lastViewAt: number | null;
}

/** How a file travels: as a tracked link, or in the mail as an attachment, which is not tracked. */
export const FILE_WAYS = ['link', 'attachment'] as const;
export type FileWay = (typeof FILE_WAYS)[number];

/** A file of a draft, with what holds for its link. */
export interface DraftFile {
  fileId: number;
  /** The version that left; null while it has not, for the newest. */
  versionId: number | null;
  way: FileWay;
  /** Whether who gets it sees the newest version, also of later days, instead of the one that was sent. */
  followsNewest: boolean;
  mayDownload: boolean;
  /** For how many days after sending it can be seen; null for ever. */
  openForDays: number | null;
  /** Whether whoever opens it is asked for their address first. */
  asksAddress: boolean;
}

/** A tracked file as a message carried it. */
export interface SentFile {
  id: number;
  messageId: number;
  fileId: number;
  name: string;
  /** The version that is shown now. */
  version: FileVersion;
  followsNewest: boolean;
  mayDownload: boolean;
  asksAddress: boolean;
  endsAt: number | null;
  /** When it was switched off; null while it can be seen. */
  closedAt: number | null;
  views: number;
  lastViewAt: number | null;
}

/** A message that carried a file. */
export interface FileUse extends Pick<SentFile, 'id' | 'messageId' | 'closedAt' | 'views'> {
  subject: string;
  recipients: Recipient[];
  /** Which version is shown by its link now. */
  version: number;
}

/** What can be changed of a file that was sent. */
export type SentFileChange = Partial<
  Pick<SentFile, 'followsNewest' | 'mayDownload' | 'asksAddress' | 'endsAt'> & { closed: boolean }
>;

/** A page that was read in one go. */
export interface Visit {
  /** In the order of reading, from 1. */
  visit: number;
  /** From 1; of what has no pages, 1. */
  page: number;
  /** For how long it was read. */
  ms: number;
}

/** One reader with one file: from opening it until the window was closed. */
export interface FileReading {
  id: number;
  sentFileId: number;
  /** The event of its opening, whose verdict holds for all of it. */
  eventId: number;
  messageId: number;
  subject: string;
  copyId: number;
  recipient: Recipient;
  version: number;
  counted: boolean;
  reason: string | null;
  startedAt: number;
  lastAt: number;
  /** The address that was given where it was asked for. */
  givenAddress: string | null;
  device: string | null;
  system: string | null;
  program: string | null;
  place: string | null;
  downloads: number;
  visits: Visit[];
}

/** What is known of the readings of a file, newest first. */
export interface FileReadings {
  readings: FileReading[];
  /** How many older ones there are. */
  leftOut: number;
}

/** What a reader’s window says of what was read. It says it again and again: what it said before, it may repeat. */
export interface ReadingReport {
  /** Names the reading; unguessable. */
  reading: string;
  /** Whether scrolled, pressed or typed. */
  active: boolean;
  visits: Visit[];
}

/** What the viewer has to know of what it shows. */
export interface ViewerFile {
  name: string;
  sender: string;
  /** How it is to be shown; `none` where it can only be downloaded, `soon` while it is being made ready. */
  shows: 'pages' | 'picture' | 'video' | 'audio' | 'none' | 'soon';
  /** Where its bytes are, to be shown, and how many there are. */
  content: string;
  size: number;
  /** Where a picture of its first page is, to be seen until the page itself is there; null where there is none. */
  firstPage: string | null;
  /** Where it can be downloaded; null where it is not to be. */
  download: string | null;
  /** Where to say what was read, and the name of this reading; null where nothing is measured. */
  report: { url: string; reading: string } | null;
  sentences: ViewerSentences;
}

/** What the page that shows a file says, in the reader’s language; `{…}` stands for what is filled in. */
export interface ViewerSentences {
  from: string;
  download: string;
  allowScripts: string;
  aboutTracking: string;
  opening: string;
  notShown: string;
  downloadInstead: string;
  askSender: string;
  preparing: string;
  downloadOnly: string;
  notPlayed: string;
  pages: string;
  page: string;
  pageNumber: string;
  find: string;
  findInDocument: string;
  found: string;
  notFound: string;
  smaller: string;
  larger: string;
  largerOrFit: string;
}

/** What is chosen for files. */
export interface FilesView {
  /** Larger ones are refused, in bytes. */
  maxBytes: number;
  /** Whether attachments of mail from other programs become tracked links, from which size on. */
  submitted: { kinds: FileKind[]; fromBytes: number };
  /** Whether slides and text documents can be turned into pages on this machine. */
  converts: boolean;
}
