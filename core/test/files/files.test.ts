import fc from 'fast-check';
import { FILE_KINDS } from '@kiraku/core/contract';
import {
  extensionOf,
  FILE_LIMITS,
  fileMark,
  fileName,
  filesPlaced,
  kindOfType,
  pageSums,
  sizeWords,
  titleOf,
  typeWords,
  whereReadersStop,
  withFileBlocks,
  withFilesNamed,
  isOpen,
  isShownAsItIs,
  mayBeDownloaded,
  shownAs,
  preparationOfFile,
} from '@kiraku/core/files';

describe('a name', () => {
  test.each([
    ['../../etc/passwd', 'passwd'],
    ['C:\\Users\\ines\\price list.pdf', 'price list.pdf'],
    ['invoice\u202Efdp.exe', 'invoicefdp.exe'],
    ['a\r\nContent-Type: text/html', 'html'],
    ['  .hidden', 'hidden'],
    ['', 'file'],
    ['...', 'file'],
    ['Ängström 価格.pdf', 'Ängström 価格.pdf'],
  ])('%j is kept as %j', (given, kept) => expect(fileName(given)).toBe(kept));

  test('500 characters are cut, and the extension stays', () => {
    const name = fileName(`${'n'.repeat(500)}.pdf`);
    expect([...name]).toHaveLength(FILE_LIMITS.maxNameChars);
    expect(name.endsWith('.pdf')).toBe(true);
  });

  test('whatever is given, it is one line that is no path, and the same when it is given again', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (given) => {
        const name = fileName(given);
        expect(name).not.toMatch(/[\p{Cc}\p{Cf}\\/:]/u);
        expect(name).not.toMatch(/^\.|^$/);
        expect([...name].length).toBeLessThanOrEqual(FILE_LIMITS.maxNameChars);
        expect(fileName(name)).toBe(name);
      }),
    );
  });

  test('its title is never taken for an address', () => {
    expect([titleOf('prices.zip'), titleOf('notes'), titleOf('a.b.pdf')]).toEqual(['prices', 'notes', 'a.b']);
    expect(extensionOf('archive.tar.gz')).toBe('.gz');
  });
});

test.each([
  [0, '0 bytes'],
  [1, '1 byte'],
  [999, '999 bytes'],
  [1000, '1 KB'],
  [640_400, '640 KB'],
  [999_951, '1 MB'],
  [2_140_000, '2.1 MB'],
  [3_000_000_000, '3 GB'],
])('%i bytes are “%s”', (bytes, words) => expect(sizeWords(bytes)).toBe(words));

test.each([
  ['application/pdf', 'pages', 'PDF'],
  ['application/vnd.openxmlformats-officedocument.presentationml.presentation', 'office', 'Slides'],
  ['application/vnd.oasis.opendocument.text', 'office', 'Document'],
  ['application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', 'office', 'Sheet'],
  ['image/png', 'picture', 'Image'],
  ['image/svg+xml', 'other', 'Image or video'],
  ['text/html', 'other', 'File'],
  ['video/webm', 'video', 'Video'],
  ['application/zip', 'other', 'Archive'],
])('%s is shown as %s and called %s', (mediaType, kind, words) => {
  expect([kindOfType(mediaType), typeWords(mediaType)]).toEqual([kind, words]);
});

describe('shared', () => {
  test.each([
    ['pages', null, 'ready', null],
    ['office', null, 'waiting', null],
    ['video', null, 'ready', null],
    ['pages', 'It is damaged', 'download-only', 'It is damaged'],
    ['office', 'It unpacks to too much', 'download-only', 'It unpacks to too much'],
    ['other', null, 'download-only', 'Files of this type can only be downloaded'],
  ] as const)('%s with the problem %j is %s', (kind, found, preparation, problem) => {
    expect(preparationOfFile(kind, found)).toEqual({ preparation, problem });
  });

  test.each([
    ['office', 'ready', 'pages'],
    ['office', 'converting', 'soon'],
    ['other', 'checking', 'soon'],
    ['picture', 'ready', 'picture'],
    ['pages', 'download-only', 'none'],
  ] as const)('%s that is %s is shown as %s', (kind, preparation, shown) => {
    expect(shownAs({ kind, preparation })).toBe(shown);
  });

  test('only what is shown as it is keeps its type: nothing that is turned, nothing unknown', () => {
    const kinds = FILE_KINDS.filter(isShownAsItIs);
    expect(kinds).toEqual(['pages', 'picture', 'video', 'audio']);
  });

  test('until its end, and not while it is switched off', () => {
    expect(isOpen({ closedAt: null, endsAt: null }, 5)).toBe(true);
    expect([4, 5, 6].map((endsAt) => isOpen({ closedAt: null, endsAt }, 5))).toEqual([false, false, true]);
    expect(isOpen({ closedAt: 1, endsAt: null }, 5)).toBe(false);
  });

  test('what cannot be shown can be downloaded, whatever was chosen', () => {
    expect(mayBeDownloaded({ mayDownload: false }, { preparation: 'ready' })).toBe(false);
    expect(mayBeDownloaded({ mayDownload: false }, { preparation: 'download-only' })).toBe(true);
    expect(mayBeDownloaded({ mayDownload: true }, { preparation: 'converting' })).toBe(true);
  });
});

describe('in a message', () => {
  const file = (fileId: number, name: string) => ({
    fileId,
    name,
    version: { mediaType: 'application/pdf', size: 2_100_000, pages: 12 },
  });
  const urlOf = ({ fileId }: { fileId: number }) => `https://track.example/f/${fileId}`;

  test('blocks stand in their places, once; the others follow; marks of none go', () => {
    const [one, two] = [file(1, 'One & all.pdf'), file(2, 'Two.pdf')];
    const html = `<p>a</p>${fileMark(one)}<p>b</p>${fileMark(file(9, 'Nine'))}${fileMark(one)}<p>c</p>`;
    expect(filesPlaced(html)).toEqual([1, 9]);
    const made = withFileBlocks(html, [two, one], urlOf);
    expect(made).toMatch(
      /^<p>a<\/p><table[\s\S]*f\/1">One &amp; all<\/a>[\s\S]*<\/table><p>b<\/p><p>c<\/p><table[\s\S]*f\/2/,
    );
    expect(made).toContain('PDF, 2.1 MB, 12 pages');
    expect(withFileBlocks(html, [one], () => null)).not.toContain('href');
  });

  test('quoted, they are words', () => {
    expect(withFilesNamed(`<p>a</p>${fileMark(file(1, 'One.pdf'))}`)).toBe('<p>a</p><p>One</p>');
  });
});

describe('over some readings', () => {
  const reading = (...visits: [page: number, ms: number][]) => ({
    visits: visits.map(([page, ms], index) => ({ visit: index + 1, page, ms })),
  });

  test('each page has its time, who came, who came back and who stopped', () => {
    const sums = pageSums(
      [reading([1, 5000], [2, 9000], [1, 1000]), reading([1, 2000], [2, 3000]), reading([1, 1000], [2, 1000])],
      3,
    );
    expect(sums).toEqual([
      { page: 1, ms: 9000, readings: 3, returned: 1, ended: 1 },
      { page: 2, ms: 13_000, readings: 3, returned: 0, ended: 2 },
      { page: 3, ms: 0, readings: 0, returned: 0, ended: 0 },
    ]);
    expect(whereReadersStop(sums)?.page).toBe(2);
  });

  test('nobody stops before the end who reads to it', () => {
    expect(whereReadersStop(pageSums([reading([1, 1000], [2, 1000]), reading([1, 1000], [2, 1000])], 2))).toBeNull();
  });
});
