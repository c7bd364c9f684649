import {
  fileUseText,
  librarySentence,
  newestVersionText,
  olderReadingsSentence,
  pagesSentence,
  pageSumText,
  pageTimeText,
  pathText,
  readingContext,
  readingText,
  readingTimesText,
  secondsText,
  sentFileSentence,
  sentText,
  viewsText,
} from '@kiraku/core/sentences';
import type { FileReading, FileUse, FileVersion, FileView, SentFile } from '@kiraku/core/contract';
import { fileWords, inAscii, pageNow, withFileBlocks, withoutFileMarks, type PageSum } from '@kiraku/core/files';

const NOW = Date.UTC(2026, 10, 23, 12);
const visit = (number: number, page: number, ms: number) => ({ visit: number, page, ms, at: NOW - 60_000 });
const reading = (change: Partial<FileReading>): FileReading =>
  ({ visits: [], downloads: 0, lastAt: NOW - 60_000, counted: true, ...change }) as FileReading;
const VISITS = [visit(1, 1, 41_000), visit(2, 3, 20_000), visit(3, 1, 1000)] as FileReading['visits'];

test.each([
  [0, '0 s'],
  [41_400, '41 s'],
  [59_499, '59 s'],
  [59_500, '1 min'],
  [60_000, '1 min'],
  [185_000, '3 min 5 s'],
])('%i ms are “%s”', (ms, words) => {
  expect(secondsText(ms)).toBe(words);
});

test.each<[name: string, change: Partial<FileReading>, pages: number | null, words: string]>([
  ['nothing but opening', {}, 12, 'Opened it'],
  ['a download', { downloads: 1 }, null, 'Opened it, downloaded it'],
  ['several downloads', { downloads: 3 }, 12, 'Opened it, downloaded it 3 times'],
  ['something without pages', { visits: VISITS }, null, 'Had it open for 1 min 2 s'],
  ['some pages', { visits: VISITS }, 12, 'Read 2 of 12 pages, for 1 min 2 s'],
  ['all pages', { visits: VISITS }, 2, 'Read all 2 pages, for 1 min 2 s'],
  ['the one page', { visits: VISITS.slice(0, 1) }, 1, 'Read all 1 page, for 41 s'],
  ['pages, and a download', { visits: VISITS, downloads: 1 }, 12, 'Read 2 of 12 pages, for 1 min 2 s, downloaded it'],
  ['reading now', { visits: VISITS, lastAt: NOW - 14_999 }, 12, 'Is on page 1 now, read 2 of 12 pages, for 1 min 2 s'],
  ['reading until just now', { visits: VISITS, lastAt: NOW - 15_000 }, 12, 'Read 2 of 12 pages, for 1 min 2 s'],
])('of %s it is said: %s', (_name, change, pages, words) => {
  expect(readingText(reading(change), pages, NOW)).toBe(words);
});

test('a page is read now only by who counts', () => {
  expect(pageNow(reading({ visits: VISITS, lastAt: NOW }), NOW)).toBe(1);
  expect(pageNow(reading({ visits: VISITS, lastAt: NOW, counted: false }), NOW)).toBeNull();
  expect(pageNow(reading({ lastAt: NOW }), NOW)).toBeNull();
});

test.each([
  [{ mediaType: 'application/pdf', size: 2_140_000, pages: 12 }, 'PDF, 2.1 MB, 12 pages'],
  [{ mediaType: 'application/pdf', size: 2_140_000, pages: 1 }, 'PDF, 2.1 MB, 1 page'],
  [{ mediaType: 'application/zip', size: 900, pages: null }, 'Archive, 900 bytes'],
])('%j is told as “%s”', (version, words) => {
  expect(fileWords(version)).toBe(words);
});

test('a block names its file, leads where it should, and nowhere else', () => {
  const file = {
    fileId: 7,
    name: 'Price <list>.pdf',
    version: { mediaType: 'application/pdf', size: 900, pages: null },
  };
  const linked = withFileBlocks(
    '<p data-file="7">x</p><p data-file="8">y</p><p data-file="7">z</p>',
    [file],
    () => 'U',
  );
  expect(linked.match(/<a href="U">Price &lt;list&gt;<\/a>/g)).toHaveLength(1);
  expect(linked).not.toMatch(/data-file|>[xyz]</);
  expect(withFileBlocks('', [file], () => null)).toMatch(/>Price &lt;list&gt;<br>/);
  expect(withFileBlocks('<p>a</p>', [file], () => 'U')).toMatch(/^<p>a<\/p><table/);
});

test('marks of files are taken out, all or of one', () => {
  const html = '<p data-file="7">x</p>a<p data-file="8">y</p>';
  expect(withoutFileMarks(html)).toBe('a');
  expect(withoutFileMarks(html, 8)).toBe('<p data-file="7">x</p>a');
});

test('HTML in ASCII reads the same', () => {
  expect(inAscii('Größe 気 🙂 <b>')).toBe('Gr&#246;&#223;e &#27671; &#128578; <b>');
});

test('older readings are one or several', () => {
  expect(olderReadingsSentence(1)).toBe('1 older reading is in the export.');
  expect(olderReadingsSentence(2500)).toBe('2500 older readings are in the export.');
});

test.each<[name: string, sum: Partial<PageSum>, text: string]>([
  ['not read', { readings: 0 }, 'page 3: not read'],
  ['read once', { readings: 1 }, 'page 3: 1 reading'],
  [
    'come back to, and the last',
    { readings: 4, returned: 1, ended: 2 },
    'page 3: 4 readings, 1 came back to it, 2 stopped there',
  ],
])('a page is %s', (_name, sum, text) => {
  expect(pageSumText({ page: 3, ms: 0, readings: 0, returned: 0, ended: 0, ...sum })).toBe(text);
});

test('what stands out over all pages', () => {
  const sum = (page: number, readings: number, returned = 0): PageSum => ({
    page,
    ms: 0,
    readings,
    returned,
    ended: 0,
  });
  expect(pagesSentence([sum(1, 2), sum(2, 1)], null)).toBe('');
  expect(pagesSentence([sum(1, 2, 1), sum(2, 0)], null)).toBe('Read more than once: page 1. Nobody has read 1 page.');
  expect(pagesSentence([sum(1, 2, 1), sum(2, 1, 1)], { ...sum(2, 1), ended: 1 })).toBe(
    '1 reading stopped at page 2. Read more than once: pages 1, 2.',
  );
  expect(pagesSentence([sum(1, 0), sum(2, 0)], null)).toBe('');
});

test('what was read of it, with what, and why it is not counted', () => {
  const context = (change: Partial<FileReading>) =>
    readingContext({
      place: null,
      givenAddress: null,
      recipient: { address: 'marit@x.example' },
      reason: null,
      ...change,
    } as FileReading);
  expect(context({ counted: true })).toBe('');
  expect(context({ counted: true, device: 'phone', place: 'Norway', givenAddress: 'marit@x.example' })).toBe(
    'phone · Norway',
  );
  expect(context({ counted: false, reason: 'override', givenAddress: 'ola@y.example' })).toBe(
    'gave the address ola@y.example · not counted: you decided so',
  );
});

const VERSION: FileVersion = {
  id: 1,
  number: 1,
  size: 2_100_000,
  mediaType: 'application/pdf',
  kind: 'pages',
  pages: 12,
  preparation: 'ready',
  problem: null,
  addedAt: NOW,
};
const file = (part: Partial<FileView> = {}): FileView =>
  ({
    id: 1,
    name: 'Panels.pdf',
    versions: [VERSION],
    percent: null,
    messages: 0,
    views: 0,
    lastViewAt: null,
    ...part,
  }) as FileView;

test.each([
  [0, '0 files with 0 bytes'],
  [1, '1 file with 2.1 MB'],
  [40, '40 files with 84 MB'],
])('a library of %d files', (count, beginning) => {
  const files = Array.from({ length: count }, () => file());
  expect(librarySentence(files, count)).toBe(`${beginning} in all versions. Drop files here to add them.`);
  expect(librarySentence(files, 0).startsWith(count === 0 ? '0 files' : `0 of ${beginning}`)).toBe(true);
});

test('a file that has several versions says which is its newest', () => {
  expect(newestVersionText(file())).toBe(fileWords(VERSION));
  expect(newestVersionText(file({ versions: [VERSION, VERSION, VERSION] }))).toBe(`${fileWords(VERSION)}, version 3`);
  expect(newestVersionText(file({ versions: [] }))).toBe('');
  const converting = { ...VERSION, preparation: 'converting' as const };
  expect(newestVersionText(file({ versions: [converting] }))).toBe(`${fileWords(VERSION)}; converting …`);
  expect(newestVersionText(file({ versions: [converting], percent: 40 }))).toBe(
    `${fileWords(VERSION)}; converting, about 40 % …`,
  );
});

test.each<[messages: number, views: number, sent: string, viewed: string]>([
  [0, 0, 'Not sent yet', ''],
  [1, 0, 'Sent once', 'Not viewed yet'],
  [3, 1, 'Sent 3 times', 'Viewed once, last 1 minute ago'],
  [900, 1200, 'Sent 900 times', 'Viewed 1200 times, last 1 minute ago'],
])('a file in %d messages, viewed %d times', (messages, views, sent, viewed) => {
  expect(sentText(messages)).toBe(sent);
  const lastViewAt = views === 0 ? null : NOW - 60_000;
  expect(viewsText(file({ messages, views, lastViewAt }), NOW)).toBe(viewed);
});

test('a message that carried a file says to whom, and whether it was viewed', () => {
  const use = {
    recipients: [
      { kind: 'to', name: 'Marit Oakes', address: 'm@x.example' },
      { kind: 'to', name: 'דנה', address: 'd@x.example' },
    ],
    version: 2,
    views: 0,
    closedAt: null,
  } as unknown as FileUse;
  expect(fileUseText(use)).toBe('to Marit Oakes, \u2068דנה\u2069 · version 2 · not viewed yet');
  expect(fileUseText({ ...use, views: 1, closedAt: NOW })).toMatch(/ · viewed once · switched off$/);
  expect(fileUseText({ ...use, views: 30 })).toMatch(/ · viewed 30 times$/);
});

test('what holds for a link is said where it is not the usual', () => {
  const sent = {
    version: VERSION,
    mayDownload: true,
    endsAt: null,
    closedAt: null,
    asksAddress: false,
    followsNewest: false,
  } as SentFile;
  expect(sentFileSentence(sent, NOW)).toBe(`${fileWords(VERSION)}.`);
  expect(
    sentFileSentence({ ...sent, mayDownload: false, asksAddress: true, followsNewest: true, closedAt: NOW }, NOW),
  ).toBe(`${fileWords(VERSION)}. Switched off. View only. Asks for an email address. Shows the newest version, now 1.`);
  expect(sentFileSentence({ ...sent, endsAt: NOW + 1 }, NOW)).toMatch(/\. Until 23 Nov\.$/);
  expect(sentFileSentence({ ...sent, endsAt: NOW }, NOW)).toMatch(/\. Ended on 23 Nov\.$/);
});

test('the path of a reading names its pages, of very many the first', () => {
  expect(pathText({ visits: [] })).toBe('');
  expect(pathText({ visits: VISITS })).toBe('page 1 for 41 s, page 3 for 20 s, page 1 for 1 s');
  const long = Array.from({ length: 31 }, (_, index) => visit(index + 1, 1, 1000)) as FileReading['visits'];
  expect(pathText({ visits: long.slice(0, 30) })).toMatch(/(page 1 for 1 s(, )?){30}$/);
  expect(pathText({ visits: long })).toMatch(/page 1 for 1 s, and so on$/);
});

test('how long each reader read, in all and of a page', () => {
  expect(pageTimeText('Marit Oakes', 3, 12_000)).toBe('Marit Oakes, page 3: 12 s');
  expect(readingTimesText([])).toBe('');
  const rows = [
    ['Marit Oakes', [reading({ visits: VISITS }), reading({ visits: VISITS })]],
    ['Jun Falk', [reading({})]],
  ] as [string, FileReading[]][];
  expect(readingTimesText(rows)).toBe('Marit Oakes: 2 min 4 s; Jun Falk: 0 s');
});
