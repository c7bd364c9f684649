import fc from 'fast-check';
import { checkMessage, CHECKS, looksLikeAddress, wordsFromUrl, type CheckedMessage } from '@kiraku/core/message';
import type { RecipientView } from '@kiraku/core/contract';
import { FAULTLESS, FAULTY } from './sampleMessages.js';

const message = (change: Partial<CheckedMessage> = {}): CheckedMessage => ({
  recipients: [{ name: 'Marit', address: 'marit@lindqvist.example' }],
  directory: [],
  subject: 'Panels',
  text: 'Dear Marit,\nhere is the proposal.',
  htmlBytes: 400,
  links: [{ url: 'https://tallowreed.example/proposal', words: 'the proposal' }],
  pictures: 0,
  files: 0,
  known: { recipient: { name: 'Marit Oakes', address: 'marit@lindqvist.example' }, company: '', sender: undefined },
  tracked: true,
  publicUrl: 'https://track.tallowreed.example',
  ...change,
});
const crowd = (length: number) => Array.from({ length }, (_, n) => ({ name: '', address: `a${n}@x.example` }));
const rules = (change: Partial<CheckedMessage>) => checkMessage(message(change)).map((advice) => advice.rule);
const link = (url: string, words: string) => ({ links: [{ url, words }] });

test('a message in order is not commented on', () => {
  expect(checkMessage(message())).toEqual([]);
});

test.each<[string, Partial<CheckedMessage>, string[]]>([
  ['no subject', { subject: ' ' }, ['no-subject']],
  ['no body', { text: ' \n', links: [] }, ['no-body']],
  [
    'a leftover of a template',
    { text: 'Dear {{first name}}, see [COMPANY] and XXX' },
    ['placeholder', 'placeholder', 'placeholder'],
  ],
  ['nothing but a picture', { text: ' ', links: [], pictures: 1 }, ['only-a-picture']],
  ['a picture with words', { text: 'Dear Marit, this is how it would look in the reading room.', pictures: 1 }, []],
  ['a salutation without a name', { text: 'Dear ,\nhere it is' }, ['placeholder']],
  ['a name in brackets that is none', { text: 'Dear Marit, [sic] XX' }, []],
  [
    'an address as its own words',
    link('https://tallowreed.example/felt/24/data', 'https://tallowreed.example/felt/24/data'),
    ['address-as-words'],
  ],
  ['the same, not tracked', { ...link('https://tallowreed.example/x', 'tallowreed.example/x'), tracked: false }, []],
  ['a link without words', link('https://tallowreed.example/x', ''), ['wordless-link']],
  ['a page that is not secure', link('http://tallowreed.example/x', 'felt'), ['not-secure']],
  ['a page nobody else can reach', link('http://localhost:3000/x', 'felt'), ['not-a-site']],
  ['a site without a dot', link('https://intranet/x', 'felt'), ['not-a-site']],
  ['an attachment that is not there', { text: 'Please find it attached.' }, ['attachment-missing']],
  ['attached in another sense', { text: 'I am reattaching the panel.' }, []],
  ['too long', { htmlBytes: 150_000 }, ['cut-off']],
  ['very many', { recipients: crowd(30) }, ['many-recipients']],
  [
    'a public address that only we can reach',
    { publicUrl: 'http://127.0.0.1:4610', recipients: [{ name: '', address: 'a@company.zz' }] },
    ['private-public-url'],
  ],
  ['the same in a trial', { publicUrl: 'http://127.0.0.1:4610' }, []],
])('%s', (_name, change, expected) => {
  expect(rules(change)).toEqual(expected);
});

test.each<[name: string, change: Partial<CheckedMessage>, expected: string[]]>([
  ['an attachment that travels along', { text: 'Please find it attached.', files: 1 }, []],
  ['an enclosure that is not there', { text: 'I have enclosed the price list.' }, ['attachment-missing']],
  ['exactly as long as hosts show', { htmlBytes: 102_000 }, []],
  ['a byte longer', { htmlBytes: 102_001 }, ['cut-off']],
  ['as many as is personal', { recipients: crowd(25) }, []],
  ['one more', { recipients: crowd(26) }, ['many-recipients']],
  ['thirty-nine signs beside a picture', { text: 'x'.repeat(39), pictures: 1 }, ['only-a-picture']],
  ['forty signs beside a picture', { text: 'x'.repeat(40), pictures: 1 }, []],
  ['a page on this machine by its number', link('http://127.0.0.1/x', 'felt'), ['not-a-site']],
  ['a page on this machine by its IPv6 number', link('http://[::1]/x', 'felt'), ['not-a-site']],
  ['a page on every address', link('http://0.0.0.0/x', 'felt'), ['not-a-site']],
  ['a page by an IPv6 number of the world', link('https://[2001:db8::1]/x', 'felt'), []],
  ['a page on https', link('https://tallowreed.example/x', 'felt'), []],
  [
    'words that are an address in capitals',
    link('https://tallowreed.example/x', 'WWW.Tallowreed.example'),
    ['address-as-words'],
  ],
  ['a public address in the world', { recipients: [{ name: '', address: 'a@company.zz' }] }, []],
  [
    'a public address that only we can reach, without tracking',
    { publicUrl: 'http://localhost:4610', tracked: false, recipients: [{ name: '', address: 'a@company.zz' }] },
    [],
  ],
  [
    'a public address that only we can reach, for one of several',
    {
      publicUrl: 'http://localhost:4610',
      recipients: [
        { name: '', address: 'a@x.test' },
        { name: '', address: 'b@company.zz' },
      ],
    },
    ['private-public-url'],
  ],
  ['what was to be done', { text: 'Dear Marit, TODO' }, ['placeholder']],
  ['a place in the subject', { subject: 'For {{company}}' }, ['placeholder']],
  ['one place twice', { text: 'Dear XXX, and XXX' }, ['placeholder']],
])('%s: %j', (_name, change, expected) => {
  expect(rules(change)).toEqual(expected);
});

test.each<[change: Partial<CheckedMessage>, words: RegExp]>([
  [{ subject: '' }, /no subject.*spam/],
  [{ text: '', links: [] }, /nothing to read/],
  [{ text: 'Dear XXX' }, /“XXX” looks like a place/],
  [{ text: 'x', pictures: 1 }, /hardly any text/],
  [link('https://a.example/x', 'https://a.example/x'), /“https:\/\/a\.example\/x”\. Its text is a web address/],
  [link('https://a.example/x', ''), /has no text/],
  [link('http://localhost/x', ''), /“http:\/\/localhost\/x” leads to http:\/\/localhost\/x, which others cannot reach/],
  [link('http://a.example/x', 'felt'), /“felt” leads to http: browsers warn/],
  [{ text: 'Please see the attachments.' }, /You write “see the attachments”, and nothing is attached/],
  [{ htmlBytes: 150_400 }, /150 kB long.*over 102 kB/],
  [{ recipients: crowd(30) }, /goes to 30 recipients/],
  [
    { publicUrl: 'http://127.0.0.1:4610', recipients: [{ name: '', address: 'a@company.zz' }] },
    /cannot reach http:\/\/127\.0\.0\.1:4610/,
  ],
])('%j is said in words', (change, words) => {
  expect(
    checkMessage(message(change))
      .map((advice) => advice.words)
      .join('\n'),
  ).toMatch(words);
});

describe('of sixty messages as they are written', () => {
  test.each(FAULTLESS)('nothing is said of $text', (sample) => {
    expect(checkMessage(message({ links: [], ...sample }))).toEqual([]);
  });

  test.each(FAULTY)('what is wrong is said of $text', ({ rules: expected, ...sample }) => {
    expect(rules({ links: [], ...sample })).toEqual(expected);
  });

  test.each([
    'L’offerta è allegata.',
    'Adjunto encontrará el presupuesto.',
    'O plano segue anexado.',
    'O plano vai em anexo.',
  ])('an attachment is missed in “%s”, too', (text) => {
    expect(rules({ text, links: [] })).toEqual(['attachment-missing']);
  });

  test('half are faultless', () => {
    expect([FAULTLESS.length, FAULTY.length]).toEqual([30, 30]);
  });
});

test('what is very long is shortened where it is quoted', () => {
  const long = `https://a.example/${'x'.repeat(80)}`;
  const [advice] = checkMessage(message(link(long, long)));
  expect(advice!.words).toContain(`“${long.slice(0, 59)}…”`);
  expect(checkMessage(message(link('http://a.example/x', 'y'.repeat(60))))[0]!.words).toContain(`“${'y'.repeat(60)}”`);
});

test('a place that is known is filled in one press, others are left to their writer', () => {
  const [filled, unknown] = checkMessage(message({ text: 'Dear {{first name}}, {{weather}}' }));
  expect(filled!.fix).toEqual({ kind: 'fill', words: 'Marit' });
  expect(unknown!.fix).toBeNull();
  const [wordless] = checkMessage(message(link('https://tallowreed.example/felt', '')));
  expect(wordless!.fix).toEqual({ kind: 'name-link', link: 0, words: 'felt' });
});

test('what can be mended in one press says how', () => {
  const [named] = checkMessage(
    message(link('https://tallowreed.example/felt/24mm-data.html?x=1', 'www.tallowreed.example')),
  );
  expect(named!.fix).toEqual({ kind: 'name-link', link: 0, words: 'felt: 24mm data' });
  const [secured] = checkMessage(message(link('http://tallowreed.example/x', 'felt')));
  expect(secured!.fix).toEqual({ kind: 'secure-link', link: 0, url: 'https://tallowreed.example/x' });
});

test.each([
  ['https://a.example/x', true],
  ['www.tallowreed.example', true],
  ['tallowreed.example', true],
  ['grüße.example/felt', true],
  ['the proposal', false],
  ['felt, 24 mm', false],
  ['e.g. this', false],
  ['', false],
])('%j looks like an address: %s', (words, expected) => {
  expect(looksLikeAddress(words)).toBe(expected);
});

test.each([
  ['https://www.tallowreed.example/', 'the site of tallowreed'],
  ['https://tallowreed.example/felt/24/data', 'felt, 24: data'],
  ['https://tallowreed.example/colours/winter_card.pdf', 'colours: winter card'],
  ['https://tallowreed.example/%E6%B0%97%E6%A5%BD', '気楽'],
  ['https://tallowreed.example/%zz', 'zz'],
])('words for %s: %s', (url, words) => {
  expect(wordsFromUrl(url).replace('%', '')).toBe(words);
});

test('mending once is enough: proposed words are never taken for an address again', () => {
  fc.assert(
    fc.property(fc.webUrl({ withQueryParameters: true }), (url) => {
      const words = wordsFromUrl(url);
      expect(words.length).toBeGreaterThan(0);
      expect(words.length).toBeLessThanOrEqual(255);
      expect(looksLikeAddress(words)).toBe(false);
    }),
  );
});

test('each rule has a name of its own', () => {
  expect(new Set(CHECKS.map((rule) => rule.name)).size).toBe(CHECKS.length);
});

describe('recipients', () => {
  const known = (address: string, part: Partial<RecipientView> = {}): RecipientView => ({
    address,
    personId: null,
    name: '',
    company: '',
    messages: 0,
    doNotTrack: false,
    lookalike: null,
    ...part,
  });
  const MARIT = known('marit@lindqvist.example', { personId: 1, name: 'Marit Oakes', messages: 4 });
  const to = (...directory: RecipientView[]) =>
    checkMessage(message({ directory, recipients: directory.map(({ name, address }) => ({ name, address })) }));

  test('an address that is one slip from a known domain is pointed out, with the one that was perhaps meant', () => {
    const [advice, ...others] = to(MARIT, known('jun@lindqist.example', { lookalike: 'jun@lindqvist.example' }));
    expect(others).toEqual([]);
    expect(advice).toEqual({
      rule: 'lookalike',
      words: 'You have never written to jun@lindqist.example, and know people at lindqvist.example.',
      fix: { kind: 'address', address: 'jun@lindqist.example', words: 'jun@lindqvist.example' },
    });
  });

  test('a first message among people one has written to is pointed out; alone it is not', () => {
    expect(to(MARIT, known('new@clinic.example')).map(({ words }) => words)).toEqual([
      'You have never written to new@clinic.example, only to the rest.',
    ]);
    expect(to(MARIT, known('new@clinic.example'), known('b@x.example')).map(({ words }) => words)).toEqual([
      'You have never written to new@clinic.example and 1 other, only to the rest.',
    ]);
    expect(to(known('new@clinic.example'))).toEqual([]);
    expect(to(known('new@clinic.example'), known('other@clinic.example'))).toEqual([]);
    expect(to(MARIT)).toEqual([]);
  });

  test('who gets it twice is pointed out: one person by two addresses, or one name at two', () => {
    const second = known('oakes@home.example', { personId: 1, name: 'Marit Oakes', messages: 4 });
    expect(to(MARIT, second)).toMatchObject([
      { rule: 'twice', words: 'Marit Oakes gets it twice, at marit@lindqvist.example and oakes@home.example.' },
    ]);
    const stranger = known('m.oakes@work.example', { personId: 7, name: 'Marit Oakes', messages: 1 });
    expect(to(MARIT, stranger).map(({ rule }) => rule)).toEqual(['twice']);
    expect(to(MARIT, known('jun@lindqvist.example', { personId: 2, messages: 1 }))).toEqual([]);
  });
});
