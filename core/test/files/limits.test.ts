import { AS_LINK, FILE_LIMITS, typeWords } from '@kiraku/core/files';

test('a report of as many visits as it may name, all of the longest, is no larger than a report may be', () => {
  const { maxVisits, maxPages, maxVisitMs, maxVisitsPerReport, maxReportBytes } = FILE_LIMITS;
  const longest = { visit: maxVisits, page: maxPages, ms: maxVisitMs };
  const report = {
    reading: 'x'.repeat(100),
    active: false,
    visits: Array.from({ length: maxVisitsPerReport }, () => longest),
  };
  expect(JSON.stringify(report).length).toBeLessThanOrEqual(maxReportBytes);
});

test('until something else is said, a file travels as a link that may be downloaded, and stays open', () => {
  expect(AS_LINK).toEqual({
    versionId: null,
    way: 'link',
    followsNewest: false,
    mayDownload: true,
    openForDays: null,
    asksAddress: false,
  });
});

test.each([
  ['application/pdf', 'PDF'],
  ['image/png', 'Image'],
  ['something/else', 'File'],
])('%s is called “%s”', (mediaType, words) => {
  expect(typeWords(mediaType)).toBe(words);
});
