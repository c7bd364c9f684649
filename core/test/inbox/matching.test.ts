import { copyOfAnswer, copyOfReport, messageIdsIn, subjectRoot, type Candidate } from '@kiraku/core/inbox';

const copy = (copyId: number, address: string, id: string): Candidate => ({
  copyId,
  messageId: 1,
  address,
  messageIdHeader: `<${id}@tallowreed.example>`,
});
const MARIT = copy(1, 'marit@lindqvist.example', 'one');
const OTIS = copy(2, 'otis@lindqvist.example', 'two');
const IRIS = copy(3, 'iris@saltmarsh.example', 'three');
/** Copies of one mail that a mail program handed in share its Message-ID. */
const SHARED = [copy(4, 'marit@lindqvist.example', 'shared'), copy(5, 'otis@lindqvist.example', 'shared')];
const ALL = [MARIT, OTIS, IRIS, ...SHARED];
const ids = (...names: string[]) => names.map((name) => `<${name}@tallowreed.example>`);

describe('the copy that a report is about', () => {
  test.each<[name: string, about: string[], addresses: string[], copyId: number | null]>([
    ['names its Message-ID and its recipient', ids('one'), ['Marit@Lindqvist.example'], 1],
    ['names another address of the same domain', ids('one'), ['front-desk@lindqvist.example'], 1],
    ['names an address elsewhere', ids('one'), ['marit@elsewhere.example'], null],
    ['names no address', ids('one'), [], null],
    ['names no message of ours', ids('nothing'), ['marit@lindqvist.example'], null],
    ['names nothing', [], ['marit@lindqvist.example'], null],
    ['names one of several that share a Message-ID', ids('shared'), ['otis@lindqvist.example'], 5],
    ['names a domain of several that share one', ids('shared'), ['front-desk@lindqvist.example'], null],
    ['names several messages: the surest that fits', ids('three', 'two', 'one'), ['marit@lindqvist.example'], 2],
    ['names several addresses', ids('three'), ['x@y.example', 'iris@saltmarsh.example'], 3],
  ])('%s', (_name, about, addresses, copyId) => {
    expect(copyOfReport(about, addresses, ALL)?.copyId ?? null).toBe(copyId);
  });
});

describe('the copy that an answer follows', () => {
  test.each<[name: string, references: string[], from: string, copyId: number | null]>([
    ['is its writer’s', ids('shared'), 'OTIS@lindqvist.example', 5],
    ['is somebody else’s where they answer for another', ids('one'), 'assistant@lindqvist.example', 1],
    ['is the nearest that it names', ids('two', 'one'), 'marit@lindqvist.example', 2],
    ['is the next where the nearest is none of ours', ids('nothing', 'one'), 'marit@lindqvist.example', 1],
    ['is none where it names none', ids('nothing'), 'marit@lindqvist.example', null],
    ['is none where it names nothing', [], 'marit@lindqvist.example', null],
  ])('%s', (_name, references, from, copyId) => {
    expect(copyOfAnswer(references, from, ALL)?.copyId ?? null).toBe(copyId);
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
  ['Re:', ''],
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
