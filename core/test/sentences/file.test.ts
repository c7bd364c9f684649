import {
  olderReadingsSentence,
  pagesSentence,
  pageSumText,
  readingContext,
  readingText,
  secondsText,
} from '@kiraku/core/sentences';
import type { FileReading } from '@kiraku/core/contract';
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
