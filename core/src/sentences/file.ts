import type { FileReading, FileUse, FileVersion, FileView, SentFile, Visit } from '../contract/file.js';
import { fileWords } from '../files/block.js';
import type { FileOrder } from '../files/library.js';
import { pageNow, readMs, type PageSum } from '../files/pages.js';
import { sizeWords } from '../files/names.js';
import { capital, counted, dateWords, SECOND, whenWords } from '../time/words.js';
import { deviceText } from './event.js';
import { reasonText } from './verdict.js';
import { isolated, joined, peopleText, personText, times } from './words.js';

const UNDERWAY: Partial<Record<FileVersion['preparation'], string>> = {
  checking: 'checking …',
  waiting: 'waiting to be converted …',
  converting: 'converting …',
};
/** So many pages are named that were read again. */
const MAX_PAGES_LISTED = 8;
/** So many pages are named of a reading’s path. */
const MAX_PATH_PAGES = 30;

/** “42 s”, “3 min 5 s”: short, since it stands under small pages. */
export function secondsText(ms: number): string {
  const seconds = Math.round(ms / SECOND);
  if (seconds < 60) return `${seconds} s`;
  const rest = seconds % 60;
  return `${Math.floor(seconds / 60)} min${rest === 0 ? '' : ` ${rest} s`}`;
}

/** “PDF, 2.1 MB, 12 pages”, or how far its preparation is: in about how many per cent, where that is known. */
export function fileStateText(version: FileVersion, percent: number | null = null): string {
  const underway = percent === null ? UNDERWAY[version.preparation] : `converting, about ${percent} % …`;
  return joined([fileWords(version), underway], '; ');
}

/** Whether a version is still being prepared. */
export function isUnderway({ preparation }: FileVersion): boolean {
  return preparation in UNDERWAY;
}

/** What is known of a file over all messages. `counting` are its counted readings. */
export function fileSentence({ messages, versions, percent }: FileView, counting: readonly FileReading[]): string {
  const [newest] = versions;
  const people = new Set(counting.map(({ recipient }) => recipient.address)).size;
  const ms = counting.reduce((sum, reading) => sum + readMs(reading), 0);
  return joined([
    newest && `${fileStateText(newest, percent)}.`,
    messages > 0 && `In ${counted(messages, 'message')}.`,
    counting.length > 0 &&
      `${capital(times('viewed', counting.length))} by ${counted(people, 'recipient')}, for ${secondsText(ms)} in total.`,
  ]);
}

/** Whose the readings are that stand below: “5 readings by Marit Oakes and 1 more”. */
export function readingsText(readings: readonly FileReading[]): string {
  const people = [...new Map(readings.map(({ recipient }) => [recipient.address, recipient])).values()];
  return `${counted(readings.length, 'reading')} by ${peopleText(people, 'nobody')}`;
}

/** “Is on page 3 now”, “Read 4 of 12 pages, for 3 min”, “Had it open for 41 s”, “Opened it, downloaded it”. */
export function readingText(reading: FileReading, pages: number | null, now: number): string {
  const { visits, downloads } = reading;
  const ms = readMs(reading);
  const downloaded = downloads > 0 && (downloads === 1 ? 'downloaded it' : `downloaded it ${downloads} times`);
  const onPage = pageNow(reading, now);
  if (visits.length === 0) return capital(joined(['opened it', downloaded], ', '));
  if (pages === null) return capital(joined([`had it open for ${secondsText(ms)}`, downloaded], ', '));
  const seen = new Set(visits.map(({ page }) => page)).size;
  const part = seen === pages ? `all ${counted(pages, 'page')}` : `${seen} of ${counted(pages, 'page')}`;
  const current = onPage !== null && `is on page ${onPage} now`;
  return capital(joined([current, `read ${part}, for ${secondsText(ms)}`, downloaded], ', '));
}

/** With what and where a file was read, and why it is not counted. */
export function readingContext(reading: FileReading): string {
  const { place, givenAddress, counted: isCounted, reason, recipient } = reading;
  const given = givenAddress !== null && givenAddress !== recipient.address;
  return joined(
    [
      deviceText(reading),
      place,
      given && `gave the address ${isolated(givenAddress)}`,
      !isCounted && `not counted: ${reason === null ? '' : reasonText(reason)}`,
    ],
    ' · ',
  );
}

/** “page 3: 4 readings, 1 came back to it”. */
export function pageSumText({ page, readings, returned, ended }: PageSum): string {
  const parts = [
    readings === 0 ? 'not read' : counted(readings, 'reading'),
    returned > 0 && `${returned} came back to it`,
    ended > 0 && `${ended} stopped there`,
  ];
  return `page ${page}: ${joined(parts, ', ')}`;
}

/** What stands out over all pages: where readers stop, what they read again, what nobody read. */
export function pagesSentence(sums: readonly PageSum[], stop: PageSum | null): string {
  const again = sums.filter(({ returned }) => returned > 0).map(({ page }) => page);
  const unread = sums.filter(({ readings }) => readings === 0).length;
  return joined([
    stop && `${counted(stop.ended, 'reading')} stopped at page ${stop.page}.`,
    again.length > 0 &&
      `Read more than once: ${again.length === 1 ? 'page' : 'pages'} ${again.slice(0, MAX_PAGES_LISTED).join(', ')}.`,
    unread > 0 && unread < sums.length && `Nobody has read ${counted(unread, 'page')}.`,
  ]);
}

/** How many readings are too old to be listed; at least one. */
export function olderReadingsSentence(count: number): string {
  return `${counted(count, 'older reading')} ${count === 1 ? 'is' : 'are'} in the export.`;
}

/** What the library is sorted by. */
export const FILE_ORDER_TEXTS: Record<FileOrder, string> = {
  added: 'Newest first',
  name: 'By name',
  sent: 'Most sent first',
  viewed: 'Last viewed first',
};

/** How many files there are, how large all their versions are together, and how many of them are shown. */
export function librarySentence(files: readonly FileView[], shown: number): string {
  const bytes = files.flatMap(({ versions }) => versions).reduce((sum, { size }) => sum + size, 0);
  const some = shown < files.length ? `${shown} of ` : '';
  return `${some}${counted(files.length, 'file')} with ${sizeWords(bytes)} in all versions. Drop files here to add them.`;
}

/** “PDF, 2.1 MB, 12 pages, version 3”. */
export function newestVersionText({ versions, percent }: Pick<FileView, 'versions' | 'percent'>): string {
  const [newest] = versions;
  return joined([newest && fileStateText(newest, percent), versions.length > 1 && `version ${versions.length}`], ', ');
}

/** How often a file was sent. */
export function sentText(messages: number): string {
  return messages === 0 ? 'Not sent yet' : capital(times('sent', messages));
}

/** How often a file was viewed over all messages, and when last. Empty where it was not sent. */
export function viewsText({ messages, views, lastViewAt }: FileView, now: number): string {
  if (messages === 0) return '';
  if (views === 0 || lastViewAt === null) return 'Not viewed yet';
  return `${capital(times('viewed', views))}, last ${whenWords(lastViewAt, now)}`;
}

/** A message that carried a file: to whom, which version, and whether it was viewed. */
export function fileUseText({ recipients, version, views, closedAt }: FileUse): string {
  return joined(
    [
      `to ${recipients.map(personText).join(', ')}`,
      `version ${version}`,
      views === 0 ? 'not viewed yet' : times('viewed', views),
      closedAt !== null && 'switched off',
    ],
    ' · ',
  );
}

/** A file that was sent, and what holds for its link: “PDF, 2.1 MB, 12 pages. View only.” */
export function sentFileSentence(file: SentFile, now: number): string {
  const { mayDownload, endsAt, closedAt, asksAddress, followsNewest, version } = file;
  const parts = [
    fileWords(version),
    closedAt !== null && 'Switched off',
    !mayDownload && 'View only',
    endsAt !== null && `${endsAt > now ? 'Until' : 'Ended on'} ${dateWords(endsAt, now)}`,
    asksAddress && 'Asks for an email address',
    followsNewest && `Shows the newest version, now ${version.number}`,
  ];
  return `${joined(parts, '. ')}.`;
}

/** The order in which pages were read: “page 1 for 40 s, page 3 for 12 s”. */
export function pathText({ visits }: Pick<FileReading, 'visits'>): string {
  const named = visits.slice(0, MAX_PATH_PAGES).map(visitText);
  return joined([...named, visits.length > named.length && 'and so on'], ', ');
}

/** “page 3 for 12 s”. */
export function visitText({ page, ms }: Visit): string {
  return `page ${page} for ${secondsText(ms)}`;
}

/** How long one row of a table of readings read one page. */
export function pageTimeText(name: string, page: number, ms: number): string {
  return `${name}, page ${page}: ${secondsText(ms)}`;
}

/** How long each row of a table of readings read in all: “Marit Oakes: 40 s; Jun Arai: 1 min”. */
export function readingTimesText(rows: readonly (readonly [name: string, readings: readonly FileReading[]])[]): string {
  return rows
    .map(([name, own]) => `${name}: ${secondsText(own.reduce((sum, reading) => sum + readMs(reading), 0))}`)
    .join('; ');
}
