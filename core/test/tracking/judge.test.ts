import fc from 'fast-check';
import type { NetworkKind } from '@kiraku/core/contract';
import { reasonText } from '@kiraku/core/sentences';
import {
  COUNTED_FROM,
  describeAgent,
  imagePath,
  isUncertain,
  judge,
  judgeAround,
  likelihoodOf,
  linkPath,
  networkOf,
  parsePublicPath,
  REACH_MS,
  readNetwork,
  DECISIVE,
  EVIDENCE,
  Surroundings,
  UNKNOWN_NETWORK,
  type Hit,
  type KnownNetwork,
  type Situation,
} from '@kiraku/core/tracking';
import { DAY, HOUR, MINUTE, SECOND } from '@kiraku/core/time';

const LAPTOP = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';
const PHONE =
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Mobile/15E148 Safari/604.1';
const CACHE = 'Mozilla/5.0 (via ggpht.com GoogleImageProxy)';

const hit = ({ userAgent = LAPTOP, ip = '192.0.2.7', ...change }: Partial<Hit> = {}): Hit => ({
  id: 1,
  at: 2 * HOUR,
  kind: 'opened',
  copyId: 1,
  linkId: null,
  sentFileId: null,
  ip,
  network: networkOf(ip, change.hosted),
  userAgent,
  agent: describeAgent(userAgent),
  method: 'GET',
  purpose: '',
  ownDevice: false,
  dnt: false,
  hosted: false,
  active: false,
  ...change,
});
const click = (linkId: number, at: number, change: Partial<Hit> = {}): Hit =>
  hit({ id: at + linkId, kind: 'clicked', linkId, at, ...change });

const situation = (change: Partial<Situation> = {}): Situation => ({
  copies: new Map([1, 2, 3].map((id) => [id, { sentAt: 0, colleague: id === 3 }])),
  links: null,
  networkFrom: () => UNKNOWN_NETWORK,
  optOutAsked: () => false,
  ownNetworks: [],
  colleagues: 'count',
  respectDnt: false,
  trackForMs: null,
  notifyForMs: null,
  ...change,
});

const reasons = (hits: Hit[], change: Partial<Situation> = {}) =>
  judge(hits, situation(change)).map(({ reason }) => reason);

describe('one hit', () => {
  test.each<[string, Partial<Hit>, Partial<Situation>, string | null]>([
    ['a person', {}, {}, null],
    ['prefetching', { purpose: 'prefetch;prerender' }, {}, 'prefetch'],
    ['a robot', { userAgent: 'LinkScanner/1.0 (+https://scan.example/bot)' }, {}, 'robot'],
    ['no agent', { userAgent: '' }, {}, 'robot'],
    ['a cache, fetching for a person', { userAgent: CACHE }, {}, null],
    ['a cache that follows a link', { userAgent: CACHE, kind: 'clicked', linkId: 1 }, {}, 'no-browser'],
    ['a relay at delivery', { userAgent: 'Mozilla/5.0', at: MINUTE }, {}, 'image-proxy'],
    ['a relay hours later', { userAgent: 'Mozilla/5.0' }, {}, null],
    ['right after sending', { at: 1999 }, {}, 'too-soon'],
    ['two seconds after sending', { at: 2000 }, {}, null],
    ['a link three seconds after sending', { at: 3 * SECOND, kind: 'clicked', linkId: 1 }, {}, 'too-soon'],
    ['just before the sending was noted', { at: -500 }, {}, 'too-soon'],
    ['sending not yet noted', { at: SECOND }, { copies: new Map() }, null],
    ['HEAD', { method: 'HEAD' }, {}, 'not-get'],
    ['OPTIONS', { method: 'OPTIONS' }, {}, 'not-get'],
    ['my browser', { ownDevice: true }, {}, 'own-device'],
    ['my network', {}, { ownNetworks: [readNetwork('192.0.2.0/24')!] }, 'own-device'],
    ['a network that is not mine', {}, { ownNetworks: [readNetwork('192.0.3.0/24')!] }, null],
    ['a colleague, set aside', { copyId: 3 }, { colleagues: 'not-counted' }, 'colleague'],
    ['somebody else, while colleagues are set aside', { copyId: 2 }, { colleagues: 'not-counted' }, null],
    ['a wish that is not respected', { dnt: true }, {}, null],
    ['a wish that is respected', { dnt: true }, { respectDnt: true }, 'dnt'],
    ['too late', { at: 31 * DAY }, { trackForMs: 30 * DAY }, 'late'],
    ['in time', { at: 30 * DAY }, { trackForMs: 30 * DAY }, null],
    ['a link from a data centre', { kind: 'clicked', linkId: 1, at: MINUTE, hosted: true }, {}, 'data-centre'],
    ['an open from a data centre', { at: MINUTE, hosted: true }, {}, null],
  ])('%s', (_name, facts, change, reason) => {
    expect(reasons([hit(facts)], change)).toEqual([reason]);
  });
});

describe('hits in company', () => {
  const at = 2 * HOUR;
  test.each<[string, Hit[], (string | null)[]]>([
    ['the same reader again', [hit({ at }), hit({ at: at + 59 * SECOND })], [null, 'repeat']],
    ['the same reader later', [hit({ at }), hit({ at: at + MINUTE })], [null, null]],
    ['again and again, closely', [0, 40, 80].map((s) => hit({ at: at + s * SECOND })), [null, 'repeat', 'repeat']],
    ['another program', [hit({ at }), hit({ at: at + 1, userAgent: PHONE })], [null, null]],
    ['another copy', [hit({ at }), hit({ at: at + 5 * SECOND, copyId: 2 })], [null, null]],
    [
      'one site of IPv6',
      [hit({ at, ip: '2001:db8::1' }), hit({ at: at + 1, ip: '2001:db8::ffff:2' })],
      [null, 'repeat'],
    ],
    [
      'a cache, whatever its address',
      [hit({ at, userAgent: CACHE }), hit({ at: at + 1, userAgent: CACHE, ip: '192.0.2.9' })],
      [null, 'repeat'],
    ],
    ['a double click', [click(1, at), click(1, at + 400)], [null, 'repeat']],
    ['a slow link, pressed again', [click(1, at), click(1, at + 29 * SECOND)], [null, 'repeat']],
    ['two clicks', [click(1, at), click(1, at + 30 * SECOND)], [null, null]],
    [
      'a robot does not make the reader a repeat',
      [hit({ at, purpose: 'prefetch' }), hit({ at: at + 1 })],
      ['prefetch', null],
    ],
    ['two links at once', [click(1, at), click(2, at + 300)], ['many-links', 'many-links']],
    ['two links, one after the other', [click(1, at), click(2, at + SECOND)], [null, null]],
    [
      'the image with a scan',
      [hit({ at }), click(1, at + 100), click(2, at + 200)],
      ['many-links', 'many-links', 'many-links'],
    ],
    [
      'a later hit reveals the earlier',
      [click(1, at), click(2, at + 900), click(3, at + 1800)],
      ['many-links', 'many-links', 'many-links'],
    ],
    ['two copies at once, in an office', [hit({ at }), hit({ at: at + 900, copyId: 2 })], [null, null]],
    [
      'three copies at once, by one program',
      [hit({ at }), hit({ at: at + 400, copyId: 2 }), hit({ at: at + 900, copyId: 3 })],
      ['burst', 'burst', 'burst'],
    ],
    [
      'links of two copies, before anybody has opened them',
      [click(1, at), click(1, at + 900, { copyId: 2 })],
      ['burst', 'burst'],
    ],
    [
      'two copies at once, by a cache',
      [hit({ at, userAgent: CACHE }), hit({ at: at + 900, copyId: 2, userAgent: CACHE })],
      [null, null],
    ],
    ['a link right after its letter was opened', [hit({ at: 2500 }), click(1, 3 * SECOND)], [null, null]],
    ['a link right after a scanner’s look', [hit({ at: SECOND }), click(1, 3 * SECOND)], ['too-soon', 'too-soon']],
    [
      'a data centre where the letter was read',
      [hit({ at: MINUTE, hosted: true }), click(1, MINUTE + 8 * SECOND, { hosted: true })],
      [null, null],
    ],
  ])('%s', (_name, hits, expected) => {
    expect(reasons(hits)).toEqual(expected);
  });
});

test('what counts notifies, unless it is old or a colleague’s', () => {
  const notifies = (facts: Partial<Hit>, change: Partial<Situation>) =>
    judge([hit(facts)], situation(change))[0]!.notifies;
  expect(notifies({}, {})).toBe(true);
  expect(notifies({ method: 'HEAD' }, {})).toBe(false);
  expect(notifies({ copyId: 3 }, { colleagues: 'muted' })).toBe(false);
  expect(notifies({ copyId: 2 }, { colleagues: 'muted' })).toBe(true);
  expect(notifies({ at: 8 * DAY }, { notifyForMs: 7 * DAY })).toBe(false);
});

describe('a file', () => {
  const view = (sentFileId: number, at: number, change: Partial<Hit> = {}): Hit =>
    hit({ id: at + sentFileId, kind: 'file_viewed', sentFileId, at, ...change });
  const reasons = (hits: Hit[]) => judge(hits, situation()).map(({ reason }) => reason);

  test('is looked through by a link checker along with the links', () => {
    expect(reasons([click(1, MINUTE), view(1, MINUTE + 200), click(2, MINUTE + 400)])).toEqual([
      'many-links',
      'many-links',
      'many-links',
    ]);
    expect(reasons([view(1, MINUTE), view(2, MINUTE + 300)])).toEqual(['many-links', 'many-links']);
  });

  test('is no repeat of a link that has the same number', () => {
    expect(reasons([click(1, MINUTE), view(1, MINUTE + 3 * SECOND)])).toEqual([null, null]);
  });

  test.each([
    ['opened too soon', [view(1, 3 * SECOND)], 'too-soon'],
    ['opened from a data centre at once', [view(1, MINUTE, { hosted: true })], 'data-centre'],
    ['opened with others', [view(1, MINUTE), view(2, MINUTE + 300)], 'many-links'],
    ['opened over a relay', [view(1, MINUTE, { userAgent: CACHE })], 'no-browser'],
  ])('%s is evidence that is outweighed where somebody acts', (_what, hits, reason) => {
    expect(reasons(hits)[0]).toBe(reason);
    expect(reasons(hits.map((one) => ({ ...one, active: true })))[0]).toBeNull();
  });

  test('opened by the sender stays theirs, whatever they do there', () => {
    expect(reasons([view(1, MINUTE, { ownDevice: true, active: true })])).toEqual(['own-device']);
  });
});

test('every reason is known by a name that stays, and said in words of its own', () => {
  const known = [...DECISIVE, ...EVIDENCE];
  // Events are stored with these names: one that goes, or is called otherwise, leaves events that say nothing.
  expect(known.map(({ name }) => name)).toEqual([
    ...['own-device', 'colleague', 'late', 'dnt', 'not-get', 'prefetch', 'robot', 'named-filter'],
    ...['repeat', 'flood', 'override', 'automatic-reply', 'perhaps-automatic'],
    ...['acted', 'ordinary-network', 'opened-first', 'after-delivery', 'people-network'],
    ...[
      'too-soon',
      'at-delivery',
      'image-proxy',
      'data-centre',
      'data-centre-later',
      'shadow',
      'many-links',
      'several-networks',
    ],
    ...['links-in-turn', 'every-link', 'links-in-order', 'opt-out-page', 'burst', 'no-browser', 'filter-network'],
  ]);
  expect(new Set(known.map(({ words }) => words)).size).toBe(known.length);
  for (const { words, evidence, source } of known) {
    expect(words).toMatch(/^[a-z].{8,}[^.]$/);
    expect(evidence.length).toBeGreaterThan(10);
    expect(source.length).toBeGreaterThan(5);
  }
  expect(reasonText('many-links')).toBe('a security filter followed several links at once');
  expect(reasonText('override')).toBe('you decided so');
  // Of a rule that has gone since, the name is better than nothing.
  expect(reasonText('gone')).toBe('gone');
});

const agents = [LAPTOP, PHONE, CACHE, 'Mozilla/5.0', 'curl/8.5.0'];
const anyHit = fc
  .record({
    at: fc.oneof(...[40 * SECOND, 10 * MINUTE, HOUR].map((max) => fc.integer({ min: 0, max }))),
    pressed: fc.option(fc.integer({ min: 1, max: 4 })),
    isFile: fc.boolean(),
    active: fc.boolean(),
    copyId: fc.integer({ min: 1, max: 3 }),
    ip: fc.constantFrom('192.0.2.7', '192.0.2.8', '2001:db8::1', '2001:db8::2', '2001:db8:1::1'),
    userAgent: fc.constantFrom(...agents),
    method: fc.constantFrom('GET', 'GET', 'GET', 'HEAD'),
    hosted: fc.boolean(),
  })
  .map(({ pressed, isFile, active, ...facts }) => {
    if (pressed === null) return hit({ ...facts, kind: 'opened' });
    return isFile
      ? hit({ ...facts, kind: 'file_viewed', sentFileId: pressed, active })
      : hit({ ...facts, kind: 'clicked', linkId: pressed });
  });
const anyHits = fc.array(anyHit, { maxLength: 40 }).map((hits) => hits.map((one, id) => ({ ...one, id })));

describe('any hits', () => {
  test('get the same verdicts in whichever order they come', () => {
    fc.assert(
      fc.property(
        anyHits.chain((hits) => fc.tuple(fc.constant(hits), fc.shuffledSubarray(hits, { minLength: hits.length }))),
        ([hits, shuffled]) => {
          const verdicts = new Map(judge(shuffled, situation()).map((verdict, index) => [shuffled[index], verdict]));
          expect(judge(hits, situation())).toEqual(hits.map((one) => verdicts.get(one)));
        },
      ),
    );
  });

  test('get the verdicts of the whole history from the part around them', () => {
    fc.assert(
      fc.property(anyHits, fc.nat(), (hits, pick) => {
        if (hits.length === 0) return;
        const chosen = hits[pick % hits.length]!;
        const around = hits.filter(({ at }) => Math.abs(at - chosen.at) <= REACH_MS);
        const whole = judge(hits, situation())[hits.indexOf(chosen)];
        expect(judge(around, situation())[around.indexOf(chosen)]).toEqual(whole);
      }),
      { numRuns: 500 },
    );
  });
});

describe('a hit that comes to others', () => {
  test('changes no verdict but of those that are judged anew with it', () => {
    fc.assert(
      fc.property(anyHits, fc.nat(), (hits, pick) => {
        if (hits.length === 0) return;
        const last = hits[pick % hits.length]!;
        const before = hits.filter((one) => one !== last);
        const known = new Map(judge(before, situation()).map((verdict, index) => [before[index]!, verdict]));
        const surroundings = new Surroundings(before);
        surroundings.add(last);
        for (const [one, verdict] of judgeAround(last, surroundings, situation())) known.set(one, verdict);
        expect(hits.map((one) => known.get(one))).toEqual(judge(hits, situation()));
      }),
      { numRuns: 300 },
    );
  });
});

describe('how likely it is a person', () => {
  const likelihoods = (hits: Hit[], seenAs: NetworkKind | null = null) =>
    judge(hits, situation({ networkFrom: () => ({ seenAs, namedAs: null }) })).map(({ likelihood }) => likelihood);

  test('never falls with more evidence for a person, nor rises with more for a machine', () => {
    const byName = (speaksFor: string) => EVIDENCE.filter((piece) => piece.speaksFor === speaksFor);
    fc.assert(
      fc.property(fc.subarray([...EVIDENCE]), fc.constantFrom(...EVIDENCE), (pieces, more) => {
        const [without, together] = [pieces.filter((piece) => piece !== more), [...pieces, more]];
        const rise = likelihoodOf([...new Set(together)]) - likelihoodOf(without);
        expect(more.speaksFor === 'person' ? rise : -rise).toBeGreaterThanOrEqual(0);
      }),
    );
    expect(likelihoodOf(byName('person'))).toBe(100);
    expect(likelihoodOf(byName('machine'))).toBe(0);
  });

  test.each<[name: string, more: (hits: Hit[]) => { hits?: Hit[]; seenAs?: NetworkKind }]>([
    ['somebody acted', (hits) => ({ hits: hits.map((one) => ({ ...one, active: true })) })],
    ['people were seen to read over the network', () => ({ seenAs: 'people' })],
  ])('does not fall where %s', (_name, more) => {
    fc.assert(
      fc.property(anyHits, (hits) => {
        const before = likelihoods(hits);
        const { hits: others = hits, seenAs } = more(hits);
        likelihoods(others, seenAs).forEach((after, index) =>
          expect(after ?? 0).toBeGreaterThanOrEqual(before[index] ?? 0),
        );
      }),
    );
  });

  test('does not rise where the network behaved like a filter before', () => {
    fc.assert(
      fc.property(anyHits, (hits) => {
        const before = likelihoods(hits);
        likelihoods(hits, 'filter').forEach((after, index) =>
          expect(after ?? 0).toBeLessThanOrEqual(before[index] ?? 0),
        );
      }),
    );
  });

  test('is not said where a fact decides alone, and is between nothing and all where it is', () => {
    fc.assert(
      fc.property(anyHits, (hits) => {
        for (const { likelihood, counted, reason, evidence } of judge(hits, situation())) {
          const isDecided = DECISIVE.some(({ name }) => name === reason);
          expect(likelihood === null).toBe(isDecided);
          if (likelihood === null) continue;
          expect(likelihood).toBeGreaterThanOrEqual(0);
          expect(likelihood).toBeLessThanOrEqual(100);
          expect(counted).toBe(likelihood >= COUNTED_FROM);
          expect(evidence.length).toBeLessThanOrEqual(2);
          if (!counted) expect(reason).toBe(evidence[0]);
        }
      }),
    );
  });

  test.each([
    [34, false],
    [35, true],
    [64, true],
    [65, false],
    [null, false],
  ])('%s percent is uncertain: %s', (likelihood, expected) => {
    expect(isUncertain({ likelihood })).toBe(expected);
    expect(isUncertain({ likelihood, override: true })).toBe(false);
  });
});

describe('a network', () => {
  const at = 20 * MINUTE;
  const far = { ip: '203.0.113.5', hosted: true };
  const { network } = hit(far);
  const known = (change: Partial<KnownNetwork>): Partial<Situation> => ({
    networkFrom: (one) => (one.network === network ? { seenAs: null, namedAs: null, ...change } : UNKNOWN_NETWORK),
  });

  test('of a data centre is one for all its neighbours', () => {
    expect(network).toBe('203.0.113.0/24');
    expect(networkOf('2001:db8:7:1::1', true)).toBe('2001:db8:7::/48');
    expect(networkOf('2001:db8:7:1::1')).toBe('2001:db8:7:1::/64');
    expect(networkOf('::ffff:203.0.113.9', true)).toBe('203.0.113.0/24');
  });

  test('that was a filter before is one again, unless people are seen to read there', () => {
    const image = hit({ at: 2 * HOUR, ...far });
    expect(reasons([image])).toEqual([null]);
    expect(reasons([image], known({ seenAs: 'filter' }))).toEqual(['filter-network']);
    expect(reasons([click(1, 2 * HOUR, far)], known({ seenAs: 'people' }))).toEqual([null]);
  });

  test('of an office that has a filter of its own is read over all the same', () => {
    const office: Partial<Situation> = { networkFrom: () => ({ seenAs: 'filter', namedAs: null }) };
    expect(reasons([hit({ at }), click(1, at + 9 * SECOND)], office)).toEqual([null, null]);
    expect(reasons([click(1, at)], office)).toEqual(['filter-network']);
  });

  test('is what the user says that it is', () => {
    const scan = [1, 2, 3].map((link) => click(link, at + link * 20 * SECOND, far));
    expect(reasons(scan)).not.toContain(null);
    expect(reasons(scan, known({ namedAs: 'people' }))).toEqual([null, null, null]);
    expect(reasons([hit({ at: 2 * DAY, ...far })], known({ namedAs: 'filter' }))).toEqual(['named-filter']);
  });

  test('is taught by what is plain, and not by what is remembered of it', () => {
    const lessons = (hits: Hit[], change: Partial<Situation> = {}) =>
      judge(hits, situation(change)).map(({ lesson }) => lesson);
    const scan = [1, 2, 3].map((link) => click(link, at + link * 300, far));
    expect(lessons(scan)).toEqual(['filter', 'filter', 'filter']);
    expect(lessons([hit({ at: 2 * HOUR })])).toEqual(['people']);
    const image = hit({ at: MINUTE, ...far });
    expect(lessons([image])).toEqual(lessons([image], known({ seenAs: 'filter' })));
    expect(lessons([hit({ method: 'HEAD' })])).toEqual([null]);
  });
});

describe('describeAgent', () => {
  test.each([
    [LAPTOP, { device: 'computer', system: 'Linux', program: 'Firefox', nature: 'program' }],
    [PHONE, { device: 'phone', system: 'iOS', nature: 'program' }],
    [
      'Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Thunderbird/128.5.0',
      { device: 'computer', program: 'Thunderbird' },
    ],
    ['Mozilla/5.0 (via ggpht.com GoogleImageProxy)', { device: null, system: null, nature: 'cache' }],
    ['\u0000"<script>', { device: null }],
    ['Mozilla/5.0', { device: null, nature: 'relay' }],
    ['Evolution/3.50', { program: 'Evolution', nature: 'program' }],
    ['Lynx/2.9.0 libwww-FM/2.14', { program: 'Lynx', nature: 'program' }],
    ['Office Existence Discovery', { nature: 'robot' }],
    ['UrlScan/4.2 (mail gateway)', { nature: 'robot' }],
    ['curl/8.5.0', { nature: 'robot' }],
    ['', { nature: 'robot' }],
  ])('%s', (userAgent, expected) => {
    expect(describeAgent(userAgent)).toMatchObject(expected);
  });
});

describe('public paths', () => {
  const token = 'Aa0_-Aa0_-Aa0_-Aa0_-Aa';

  test('lead back to their token', () => {
    expect(parsePublicPath(imagePath(token))).toEqual({ kind: 'image', token });
    expect(parsePublicPath(linkPath(token))).toEqual({ kind: 'link', token });
  });

  test.each([
    '/',
    '/i/',
    `/i/${token}`,
    `/i/${token}x.gif`,
    `/l/${token}/`,
    `/l/${token}.gif`,
    `/x/l/${token}`,
    `/l/${token}\n`,
    `/L/${token}`,
  ])('anything else is not one: %j', (path) => expect(parsePublicPath(path)).toBeNull());
});

describe('data centres', () => {
  const at = 5 * MINUTE;
  const hosted = true;
  const [one, two, three] = ['198.51.100.1', '198.51.100.77', '203.0.113.5'].map((ip) => ({
    ...{ ip, network: networkOf(ip, hosted), hosted },
  })) as [Partial<Hit>, Partial<Hit>, Partial<Hit>];
  test.each<[name: string, hits: Hit[], expected: (string | null)[]]>([
    [
      'a person behind a proxy: the image, and half a minute later a link',
      [hit({ at, ...one }), click(1, at + 40 * SECOND, one)],
      [null, null],
    ],
    ['a link alone', [click(1, at, one)], ['data-centre']],
    ['a link long after the image', [hit({ at, ...one }), click(1, at + 601 * SECOND, one)], [null, 'data-centre']],
    [
      'the image and then every link, slowly',
      [hit({ at, ...one }), click(1, at + 9000, one), click(2, at + 23_000, one), click(3, at + 41_000, one)],
      ['links-in-turn', 'links-in-turn', 'links-in-turn', 'links-in-turn'],
    ],
    [
      'the same by a person at home',
      [hit({ at }), click(1, at + 9000), click(2, at + 23_000), click(3, at + 41_000)],
      [null, null, null, null],
    ],
    [
      'a shadow, before and after the person, from changing addresses',
      [click(1, at - 1000, { ...two, at: 3 * HOUR - 1000 }), click(1, 3 * HOUR), click(1, 3 * HOUR + 50_000, three)],
      ['shadow', null, 'shadow'],
    ],
    [
      'two who follow the same link, much later',
      [click(1, 3 * HOUR), click(1, 3 * HOUR + 76_000, three)],
      [null, null],
    ],
    [
      'one link each from several networks',
      [click(1, 3 * HOUR, one), click(2, 3 * HOUR + 4000, three)],
      ['several-networks', 'several-networks'],
    ],
    [
      'one link, over two addresses of a proxy',
      [click(1, 3 * HOUR, one), click(1, 3 * HOUR + 31_000, two)],
      [null, null],
    ],
  ])('%s', (_name, hits, expected) => expect(reasons(hits)).toEqual(expected));
});

describe('what people read with', () => {
  test.each([
    'com.apple.mail/3774.600.62',
    'Apple Mail (2.3774)',
    'Postbox/7.0.60',
    'eM Client/9.2.2157.0',
    'HCL Notes/12.0',
    'FairEmail/1.2200',
    'K-9 Mail/6.804',
    'Geary/44.1',
    'NeoMutt/20231221',
    'NetSurf/3.11 (Linux)',
    'edbrowse/3.8.8',
    'Sailfish Browser',
    'Mail/3774.600.62 CFNetwork/1496.0.7 Darwin/23.5.0',
    'Mozilla/5.0 (iPhone; CPU iPhone OS 17_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Mobile/15E148',
    'Mozilla/5.0 (compatible; Konqueror/4.14; Linux) KHTML/4.14 (like Gecko)',
    'okhttp/4.12.0',
    'Quillmail/2.1',
  ])('an image loaded by “%s” counts', (userAgent) => expect(reasons([hit({ userAgent })])).toEqual([null]));

  test.each([
    'curl/8.5.0',
    'python-requests/2.32.3',
    'axios/1.7.2',
    'Ruby',
    'Java/17.0.9',
    'SomeScanner/2.1',
    'HTTPie/3.2',
  ])('an image loaded by “%s” does not', (userAgent) => expect(reasons([hit({ userAgent })])).toEqual(['robot']));

  test('who has a short name and follows a link is a program that loads for programs', () => {
    expect(
      reasons([click(1, 2 * HOUR, { userAgent: 'Quillmail/2.1', agent: describeAgent('Quillmail/2.1') })]),
    ).toEqual([null]);
    const guard = 'Quillguard/1.0';
    expect(describeAgent(guard).nature).toBe('unknown');
    expect(reasons([click(1, 2 * HOUR, { userAgent: guard, agent: describeAgent(guard) })])).toEqual(['no-browser']);
    expect(reasons([hit({ userAgent: guard })])).toEqual([null]);
  });
});

describe('opens over one network', () => {
  const at = 2 * HOUR;
  test.each<[name: string, hits: Hit[], expected: (string | null)[]]>([
    [
      'of two programs at two copies within two seconds, from a data centre',
      [hit({ at, hosted: true }), hit({ id: 2, copyId: 2, userAgent: PHONE, at: at + 1999, hosted: true })],
      ['burst', 'burst'],
    ],
    [
      'of two programs at two copies within two seconds, in an office',
      [hit({ at }), hit({ id: 2, copyId: 2, userAgent: PHONE, at: at + 1999 })],
      [null, null],
    ],
    [
      'of two programs at two copies within two seconds, just after sending',
      [hit({ at: 4000 }), hit({ id: 2, copyId: 2, userAgent: PHONE, at: 5999 })],
      ['burst', 'burst'],
    ],
    [
      'of two programs at two copies, later',
      [hit({ at, hosted: true }), hit({ id: 2, copyId: 2, userAgent: PHONE, at: at + 2001, hosted: true })],
      [null, null],
    ],
    [
      'of a cache at one copy, by another of its addresses',
      [
        hit({ at, userAgent: CACHE, ip: '192.0.2.7' }),
        hit({ id: 2, at: at + 30 * SECOND, userAgent: CACHE, ip: '203.0.113.9', network: networkOf('203.0.113.9') }),
      ],
      [null, 'repeat'],
    ],
    [
      'of one program at one copy, by another network',
      [hit({ at }), hit({ id: 2, at: at + 30 * SECOND, ip: '203.0.113.9', network: networkOf('203.0.113.9') })],
      [null, null],
    ],
  ])('%s', (_name, hits, expected) => {
    expect(reasons(hits)).toEqual(expected);
  });

  test('a guess gives way to somebody who was seen to act', () => {
    const guesses: Partial<Hit>[] = [{ at: 1999 }, { userAgent: 'Mozilla/5.0', at: MINUTE }];
    for (const guess of guesses) {
      expect(reasons([hit(guess)])).not.toEqual([null]);
      expect(reasons([hit({ ...guess, active: true })])).toEqual([null]);
    }
  });
});

test('a relay fetches ahead within the hour, and not at its end', () => {
  const relay = (at: number) => reasons([hit({ userAgent: 'Mozilla/5.0', at })]);
  expect([relay(HOUR - 1), relay(HOUR)]).toEqual([['image-proxy'], [null]]);
});

test.each(['A Link-Checker 1.0', 'url scanner/2', 'LinkScan', 'Mozilla/5.0 (Windows NT 10.0; Win64; x64) URL Defence'])(
  '“%s” is a robot',
  (userAgent) => {
    expect(describeAgent(userAgent).nature).toBe('robot');
  },
);
