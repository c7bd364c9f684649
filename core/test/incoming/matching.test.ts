import {
  copyOfReport,
  messageIdOf,
  messageIdsIn,
  REPLY_PREFIXES,
  repliedBySubject,
  subjectRoot,
  whoseReply,
  type Candidate,
} from '@kiraku/core/incoming';

const copy = (copyId: number, messageId: number, personId: number, address: string, id: string): Candidate => ({
  copyId,
  messageId,
  personId,
  address,
  messageIdHeader: `<${id}@tallowreed.example>`,
});
const [MARIT, OTIS, IRIS, HANA] = [11, 12, 13, 14];
/** Each copy has its own Message-ID; copies of one mail that a mail program submitted share it. */
const ALL = [
  copy(1, 1, MARIT, 'marit@lindqvist.example', 'one'),
  copy(2, 1, OTIS, 'otis@lindqvist.example', 'two'),
  copy(3, 2, IRIS, 'iris@saltmarsh.example', 'three'),
  copy(4, 3, MARIT, 'marit@lindqvist.example', 'shared'),
  copy(5, 3, OTIS, 'otis@lindqvist.example', 'shared'),
  copy(6, 3, IRIS, 'iris@saltmarsh.example', 'shared'),
];
const ids = (...names: string[]) => names.map((name) => `<${name}@tallowreed.example>`);

const NOTHING = { personIds: new Set<number>(), quotedCopyIds: [], mayBeElsewhere: false };

describe('the copy that a report is about', () => {
  test('names it by its own address, or one of its company, unless a server wrote it', () => {
    const about = ids('one');
    expect(copyOfReport({ ...NOTHING, about, addresses: ['x@lindqvist.example'] }, ALL)?.copyId).toBe(1);
    expect(copyOfReport({ ...NOTHING, about, addresses: ['x@y.example'] }, ALL)).toBeNull();
    expect(copyOfReport({ ...NOTHING, about, addresses: [] }, ALL)).toBeNull();
  });

  test.each<[name: string, about: string[], addresses: string[], copyId: number | null]>([
    ['names its Message-ID and its recipient', ids('one'), ['Marit@Lindqvist.example'], 1],
    ['names another address of the same domain', ids('one'), ['front-desk@lindqvist.example'], 1],
    ['names where mail is handed on to, with a Message-ID of one alone', ids('one'), ['marit@elsewhere.example'], 1],
    ['names a Message-ID of one alone, and no address', ids('one'), [], 1],
    ['names no message of ours', ids('nothing'), ['marit@lindqvist.example'], null],
    ['names nothing', [], ['marit@lindqvist.example'], null],
    ['names one of several that share a Message-ID', ids('shared'), ['otis@lindqvist.example'], 5],
    ['names a domain of several that share one', ids('shared'), ['front-desk@lindqvist.example'], null],
    ['names several messages: the one that fits', ids('three', 'two', 'one'), ['marit@lindqvist.example'], 1],
    ['names several messages and fits none: the surest', ids('three', 'one'), ['x@y.example'], 3],
    ['names several addresses', ids('three'), ['x@y.example', 'iris@saltmarsh.example'], 3],
  ])('%s', (_name, about, addresses, copyId) => {
    const signs = { ...NOTHING, about, addresses, mayBeElsewhere: true };
    expect(copyOfReport(signs, ALL)?.copyId ?? null).toBe(copyId);
  });

  test('another address of its person, or what it returns, distinguishes it from those that share its Message-ID', () => {
    const signs = { ...NOTHING, about: ids('shared'), addresses: ['x@y.example'] };
    expect(copyOfReport({ ...signs, personIds: new Set([OTIS]) }, ALL)?.copyId).toBe(5);
    expect(copyOfReport({ ...signs, quotedCopyIds: [6] }, ALL)?.copyId).toBe(6);
    expect(copyOfReport({ ...signs, about: [], quotedCopyIds: [3] }, ALL)?.copyId).toBe(3);
  });
});

describe('whose reply it is', () => {
  const whose = (references: string[], from: string, personIds: number[] = [], quotedCopyIds: number[] = []) => {
    const found = whoseReply({ references, addresses: [from], personIds: new Set(personIds), quotedCopyIds }, ALL);
    return found && [found.copyId, found.doubt === null];
  };
  test.each<[name: string, of: ReturnType<typeof whose>, copyId: number | null, isSure: boolean]>([
    ['its writer’s', whose(ids('shared'), 'OTIS@lindqvist.example'), 5, true],
    ['its writer’s, though it follows another’s copy', whose(ids('one'), 'otis@lindqvist.example'), 2, true],
    ['its writer’s, by another address of theirs', whose(ids('shared'), 'iris@home.example', [IRIS]), 6, true],
    ['an assistant’s, for the one whose copy it follows', whose(ids('one'), 'desk@lindqvist.example'), 1, true],
    ['a stranger’s, with a Message-ID of one alone', whose(ids('one'), 'x@y.example'), 1, false],
    ['a stranger’s, who quotes a copy', whose(ids('shared'), 'x@y.example', [], [6]), 6, false],
    ['a colleague’s of one alone', whose(ids('shared'), 'desk@saltmarsh.example'), 6, false],
    ['a colleague’s of several', whose(ids('shared'), 'desk@lindqvist.example'), null, false],
    ['a stranger’s', whose(ids('shared'), 'x@y.example', [HANA]), null, false],
    ['the nearest that it names', whose(ids('nothing', 'two', 'three'), 'x@y.example'), 2, false],
    ['by what it quotes alone', whose([], 'iris@saltmarsh.example', [], [3]), 3, true],
  ])('%s', (_name, found, copyId, isSure) => {
    expect(found).toEqual([copyId, isSure]);
  });

  test('nobody’s where it follows and quotes nothing of ours', () => {
    expect(whose(ids('nothing'), 'marit@lindqvist.example', [MARIT])).toBeNull();
    expect(whose([], 'marit@lindqvist.example', [MARIT], [99])).toBeNull();
  });

  test('by its subject, that of the newest message which has the same', () => {
    const recent = [
      { ...ALL[2]!, subject: 'Lamps', sentAt: 3 },
      { ...ALL[0]!, subject: 'Panels', sentAt: 2 },
      { ...ALL[3]!, subject: 'panels', sentAt: 1 },
    ];
    expect(repliedBySubject('AW: [EXTERNAL] Panels', recent)).toMatchObject({ copyId: 1, doubt: expect.any(String) });
    expect(repliedBySubject('Re: Doors', recent)).toBeNull();
    expect(repliedBySubject('Re:', [{ ...ALL[0]!, subject: '', sentAt: 1 }])).toBeNull();
  });
});

test.each([
  ['Re: Panels', 'panels'],
  ['RE: AW: Fwd: Panels', 'panels'],
  ['re[2]: Panels', 'panels'],
  ['Antw: Sv: VS: Panels', 'panels'],
  ['WG: TR: RV: Odp: Res: FW: Panels', 'panels'],
  ['Automatic reply: Panels', 'panels'],
  ['Automatische Antwort: Panels', 'panels'],
  ['  Re :  Panels  for   Ines ', 'panels for ines'],
  ['Re-reading: Panels', 're-reading: panels'],
  ['Reg: Panels', 'reg: panels'],
  ['Cafe\u0301', 'caf\u00e9'],
  ['Re:', 're:'],
  ['[EXTERNAL] Re: [Team] AW: Panels', 'panels'],
  ['Re：Panels', 'panels'],
  ['RE (2): Re^3: Panels', 'panels'],
  ['Re : Panels', 'panels'],
  ['***SPAM*** Re: Panels', 'panels'],
  ['【社外】回复：转发: Panels', 'panels'],
  ['Zugesagt: Panels', 'panels'],
  ['Réponse automatique : Re: Panels', 'panels'],
  ['[Team]', '[team]'],
  ['Panels [Team]', 'panels [team]'],
])('“%s” is about “%s”', (subject, root) => {
  expect(subjectRoot(subject)).toBe(root);
});

test.each([
  ['<a@b.example> <c@d.example>', ['<a@b.example>', '<c@d.example>']],
  ['x <a@b.example>\r\n\t(y)<c@d.example>', ['<a@b.example>', '<c@d.example>']],
  ['<a b@c.example> <@d.example> <e@> <f>', []],
  [`<${'x'.repeat(201)}@y.example>`, []],
  ['', []],
])('in %j stand the Message-IDs %j', (text, found) => {
  expect(messageIdsIn(text)).toEqual(found);
});

test('every prefix of every language goes, with a number, and stacked', () => {
  const languages = Object.entries(REPLY_PREFIXES);
  expect(languages.length).toBeGreaterThanOrEqual(30);
  for (const [language, prefixes] of languages)
    for (const prefix of prefixes)
      for (const form of [prefix, prefix.toUpperCase(), `[EXT] ${prefix}`, `Re: ${prefix}[2]`])
        expect([language, form, subjectRoot(`${form}: Panels`)]).toEqual([language, form, 'panels']);
});

test('a Message-ID without its brackets is one, where it stands alone', () => {
  expect(messageIdOf(' a@b.example ')).toEqual(['<a@b.example>']);
  expect(messageIdOf('x <a@b.example> y')).toEqual(['<a@b.example>']);
  expect(messageIdOf('a b@c.example')).toEqual([]);
  expect(messageIdOf('')).toEqual([]);
});
