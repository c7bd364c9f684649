import { AS_LINK, FILE_LIMITS, typeWords } from '@kiraku/core/files';

test('what a file may come to is what people are told', () => {
  expect(FILE_LIMITS).toEqual({
    ...{ bytesAtFirst: 100e6, bytesAtMost: 2e9, nameLength: 120, perMessage: 20, attachedBytes: 20 * 2 ** 20 },
    ...{ openForDays: 3650, visits: 500, pages: 20_000, visitMs: 1_800_000, visitsPerReport: 120, reportBytes: 8192 },
  });
});

test('until something else is said, a file travels as a link that may be downloaded, and stays open', () => {
  expect(AS_LINK).toEqual({
    ...{ versionId: null, way: 'link', followsNewest: false },
    ...{ mayDownload: true, openForDays: null, asksAddress: false },
  });
});

test.each([
  ['application/pdf', 'PDF'],
  ['image/png', 'Picture'],
  ['something/else', 'File'],
])('%s is called “%s”', (mediaType, words) => {
  expect(typeWords(mediaType)).toBe(words);
});
